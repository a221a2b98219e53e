<script lang="ts">
	import {
		CameraPhotoOutline,
		ClockOutline,
		DesktopPcOutline,
		ImageOutline,
		MicrophoneOutline,
		PaletteOutline,
		TextSizeOutline,
		TrashBinOutline,
	} from 'flowbite-svelte-icons';
	import type { Source } from '../../core/show/sources/source.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import AddSource from './AddSource.svelte';
	import { dragSource } from './drag-source.ts';
	import type { DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
		onedit: (sourceId: string) => void;
	}
	let { session, show, onedit }: Props = $props();

	let addOpen = $state(false);

	const ICONS = {
		camera: CameraPhotoOutline,
		screen: DesktopPcOutline,
		still: ImageOutline,
		card: TextSizeOutline,
		clock: ClockOutline,
		colour: PaletteOutline,
		sound: MicrophoneOutline,
	};

	function wordsFor({ id, kind }: Source): string {
		const condition = session.conditions.get(id);
		if (!condition) return session.isWatching ? 'open in the other tab' : '…';
		if (condition.state === 'opening') return 'opening…';
		if (condition.state === 'lost') return '▲ lost';
		if (condition.reason)
			return `▲ ${condition.reason.includes('black') ? 'black' : condition.reason.includes('patched') ? 'all patched' : 'stands still'}`;
		if (kind === 'sound') return 'connected';
		return kind === 'card' || kind === 'clock' || kind === 'colour'
			? 'made here'
			: `${condition.width} × ${condition.height}`;
	}
	async function shareAgain({ id }: Source) {
		try {
			await session.share(id);
		} catch (error) {
			session.notify((error as Error).message);
		}
	}
</script>

<section class="panel" aria-labelledby="sources">
	<div class="flex items-center justify-between">
		<h2 id="sources" class="panel-title">Sources</h2>
		<button class="act mr-2 px-2 py-0.5 text-xs" onclick={() => (addOpen = true)}>Add a source</button>
	</div>
	<ul>
		{#each show.setup.sources as source (source.id)}
			{@const Icon = ICONS[source.kind]}
			<li
				class="flex items-center gap-2 border-t border-slate-rule px-3 py-1"
				data-source={source.id}
				draggable={source.kind !== 'sound'}
				ondragstart={(event) => dragSource(event, source.id)}
			>
				<Icon class="size-5 shrink-0 text-gray-300" />
				<div class="min-w-0 flex-1">
					<button
						class="block max-w-full truncate font-semibold hover:text-lamp"
						title={source.kind === 'sound' ? 'What is done to it' : 'Framings, patches, picture'}
						onclick={() => onedit(source.id)}>{source.name}</button
					>
					<p class="figures text-xs text-gray-300">{wordsFor(source)}</p>
				</div>
				{#if source.origin.from === 'share' && session.conditions.get(source.id)?.state === 'lost'}
					<button class="act px-2 py-0.5 text-xs" onclick={() => void shareAgain(source)}>Share again</button>
				{/if}
				<button
					class="p-1 text-gray-300 hover:text-lamp"
					aria-label="Remove {source.name}"
					onclick={() => session.removeSource(source)}
				>
					<TrashBinOutline class="size-5" />
				</button>
			</li>
		{:else}
			<li class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">No camera or sound yet.</li>
		{/each}
	</ul>
</section>

<AddSource {session} {show} bind:open={addOpen} />
