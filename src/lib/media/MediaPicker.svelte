<script lang="ts">
	/** Files of the media library that can be put into an event, one as a clip or several as a reel. */
	import { Checkbox } from 'flowbite-svelte';
	import type { Media } from '../../core/media/media.ts';
	import Button from '../ui/Button.svelte';
	import { clockOf, media as words } from '../words/index.ts';
	import { MediaShelf } from './library.svelte.ts';

	interface Props {
		onadd: (name: string, files: Media[]) => void;
		/** False where each is added alone. */
		several?: boolean;
	}
	let { onadd, several = true }: Props = $props();

	const shelf = new MediaShelf();
	$effect(() => {
		void shelf.refresh();
		return () => shelf.close();
	});
	/** In the order in which they were ticked. */
	let ticked = $state<string[]>([]);
	const toggle = (id: string) =>
		(ticked = ticked.includes(id) ? ticked.filter((each) => each !== id) : [...ticked, id]);
	function addReel() {
		const files = ticked.flatMap((id) => shelf.list.filter((each) => each.id === id));
		onadd(words.reel, files);
	}
</script>

<section class="grid gap-2">
	<h3 class="flex items-baseline justify-between font-semibold">
		{words.fromLibrary}
		<a class="text-sm underline" href="/media" target="_blank" rel="noreferrer">{words.toLibrary}</a>
	</h3>
	{#if shelf.problem}<p role="alert">{shelf.problem}</p>{/if}
	<ul class="grid max-h-56 gap-1 overflow-y-auto">
		{#each shelf.list.filter(({ about }) => several || about.kind !== 'still') as each (each.id)}
			<li class="flex items-center gap-2 rounded-sm border border-slate-rule p-1.5">
				{#if several && each.about.kind !== 'still'}
					<Checkbox
						checked={ticked.includes(each.id)}
						aria-label={words.tick(each.name)}
						onchange={() => toggle(each.id)}
					/>
				{/if}
				<span class="min-w-0 flex-1 truncate">{each.name}</span>
				<span class="figures text-sm"
					>{each.about.kind === 'still' ? words.still : clockOf(each.about.lengthMs / 1000)}</span
				>
				<Button size="sm" aria-label={words.addToEvent(each.name)} onclick={() => onadd(each.name, [each])}
					>{words.addToEvent('')}</Button
				>
			</li>
		{:else}
			<li class="rounded-sm border-2 border-dashed border-gray-500 p-2">{words.libraryEmpty}</li>
		{/each}
	</ul>
	{#if ticked.length > 1}<Button size="sm" onclick={addReel}>{words.addReel}</Button>{/if}
</section>
