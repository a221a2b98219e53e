<script lang="ts">
	/** The organisation's clips and sounds: uploaded, looked at, put right, found again. */
	import { Input } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import type { Media } from '../../core/media/media.ts';
	import { plainMix } from '../../core/show/mix/mix.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import Crumbs from '../ui/Crumbs.svelte';
	import Warning from '../ui/Warning.svelte';
	import { media as words } from '../words/index.ts';
	import { MediaShelf } from './library.svelte.ts';
	import MediaCard from './MediaCard.svelte';
	import MediaDrop from './MediaDrop.svelte';

	interface Props {
		media: Media[];
		/** By file, the events that play it. */
		uses: Record<string, { eventId: string; title: string }[]>;
	}
	let { media, uses }: Props = $props();

	const shelf = untrack(() => new MediaShelf(media));
	onMount(() => {
		void shelf.analyseMissing();
		return () => shelf.close();
	});

	let search = $state('');
	/** Null is all of them. */
	let folder = $state<string | null>(null);
	const folders = $derived([...new Set(shelf.list.map((each) => each.folder))].sort());
	const choices = $derived<Choice<string | null>[]>([
		[null, words.allFolders],
		...folders.map((name): Choice<string | null> => [name, name || words.noFolder]),
	]);
	const found = $derived(
		shelf.list.filter(
			(each) =>
				(folder === null || each.folder === folder) &&
				`${each.name} ${each.folder}`.toLowerCase().includes(search.trim().toLowerCase()),
		),
	);
</script>

<main class="mx-auto grid max-w-6xl gap-4 p-4 sm:p-8">
	<Crumbs pages={[{ name: words.title }]} />
	<header>
		<h1 class="text-3xl font-bold">{words.title}</h1>
		<p class="mt-1 text-gray-600">{words.about}</p>
	</header>
	<MediaDrop {shelf} folder={folder ?? ''} />
	{#if shelf.problem}<Warning urgent>{shelf.problem}</Warning>{/if}
	{#if shelf.notice}
		{@const { text, undo } = shelf.notice}
		<p class="flex items-center gap-3 rounded-sm border border-gray-400 bg-white px-3 py-2" role="status">
			<span class="flex-1">{text}</span>
			{#if undo}
				<Button
					size="sm"
					onclick={() => {
						shelf.notice = null;
						void undo();
					}}>{words.undo}</Button
				>
			{/if}
		</p>
	{/if}
	<div class="flex flex-wrap gap-2">
		<Input class="min-w-40 flex-1" size="sm" bind:value={search} placeholder={words.search} aria-label={words.search} />
		<ChoiceField
			class="w-56 shrink-0"
			label={words.folder}
			value={folder}
			{choices}
			onchange={(chosen) => (folder = chosen)}
		/>
	</div>
	<ul class="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
		{#each found as each (each.id)}
			<MediaCard media={each} {shelf} uses={uses[each.id] ?? []} targetLufs={plainMix().master.targetLufs} />
		{:else}
			<li class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600 sm:col-span-2 lg:col-span-3">
				{shelf.list.length === 0 ? words.empty : words.nothingFound}
			</li>
		{/each}
	</ul>
</main>
