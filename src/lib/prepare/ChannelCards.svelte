<script lang="ts">
	/** The channels of the stream mix, each with the level that it has now. */
	import { useDesk } from '../desk/context.ts';
	import AddChannel from '../mix/AddChannel.svelte';
	import LevelBar from '../mix/LevelBar.svelte';
	import Button from '../ui/Button.svelte';
	import { prepare as words } from '../words/index.ts';

	const session = useDesk();
	const { channels, sources } = $derived(session.state.setup);
	const heardOf = (id: string) => session.heard?.channels.find((each) => each.id === id) ?? null;
	const sourceOf = (id: string) => sources.find((source) => source.id === id)?.name ?? '';
</script>

<section class="grid gap-2" aria-labelledby="sound">
	<div class="flex flex-wrap items-center justify-between gap-2">
		<h2 id="sound" class="text-lg font-semibold">{words.sound}</h2>
		<span class="flex gap-2">
			<AddChannel onadded={(id) => session.sheet.editChannel(id)} />
			<Button href="/events/{session.eventId}/mix">{words.toMix}</Button>
		</span>
	</div>
	<ul class="grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-2">
		{#each channels as { id, name, sourceId, muted } (id)}
			<li class="panel grid gap-1 p-2">
				<Button
					look="bare"
					class="block max-w-full truncate font-semibold hover:text-lamp"
					aria-label={words.change(name)}
					onclick={() => session.sheet.editChannel(id)}>{name}</Button
				>
				<p class="truncate text-xs text-gray-300">{muted ? words.muted : sourceOf(sourceId)}</p>
				<LevelBar of={id} heard={heardOf(id)} label={words.level(name)} thin />
			</li>
		{:else}
			<li class="col-span-full rounded-sm border-2 border-dashed border-gray-500 p-4 text-gray-300">
				{words.noChannel}
			</li>
		{/each}
	</ul>
</section>
