<script lang="ts">
	/** The stream mix beside the picture: the compact form of the mix page. */
	import { useDesk } from '../desk/context.ts';
	import { mix as words } from '../words/index.ts';
	import ChannelLine from './ChannelLine.svelte';
	import HeadphonesPanel from './HeadphonesPanel.svelte';
	import Master from './Master.svelte';

	const session = useDesk();
	const show = $derived(session.state);
</script>

<aside class="flex min-h-0 flex-col gap-2 p-2" aria-label={words.streamMix}>
	<section class="panel flex min-h-0 flex-1 flex-col overflow-y-auto">
		<h2 class="panel-title flex justify-between">
			{words.streamMix}
			<a class="font-semibold text-lamp underline" href="/events/{session.eventId}/mix" target="_blank">{words.large}</a
			>
		</h2>
		{#each show.setup.channels as channel (channel.id)}
			<ChannelLine {channel} onopen={(id) => session.sheet.editChannel(id)} />
		{:else}
			<p class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">
				{words.noSoundYetAddConsole}
			</p>
		{/each}
	</section>
	{#if session.engine}<HeadphonesPanel />{/if}
	<Master />
</aside>
