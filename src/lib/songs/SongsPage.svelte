<script lang="ts">
	/** The organisation's songs and texts: imported, written, found again. */
	import { Input, Progressbar } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import type { Song, SongLine } from '../../core/words/song.ts';
	import Button from '../ui/Button.svelte';
	import Crumbs from '../ui/Crumbs.svelte';
	import FileDrop from '../ui/FileDrop.svelte';
	import { saveFile } from '../ui/save.ts';
	import Warning from '../ui/Warning.svelte';
	import { songs as words } from '../words/index.ts';
	import { SongShelf } from './library.svelte.ts';
	import SongEditor from './SongEditor.svelte';

	let { songs }: { songs: SongLine[] } = $props();
	const shelf = untrack(() => new SongShelf(songs));

	const ACCEPT = '.xml,.txt,.cho,.crd,.chopro,.chordpro,.pro,.zip,text/plain,text/xml,application/zip';
	/** The song that is open; its id is made before it is stored. */
	let open = $state.raw<{ id: string; kind: Song['kind']; song: Song | null } | null>(null);

	async function choose(id: string) {
		const song = await shelf.get(id);
		if (song) open = { id, kind: song.kind, song };
	}
	function begin(kind: Song['kind']) {
		open = { id: crypto.randomUUID(), kind, song: null };
	}
	async function remove(id: string) {
		if (open?.song === null && !shelf.list.some((each) => each.id === id)) open = null;
		else if (await shelf.remove(id)) open = null;
	}
	async function exportAll() {
		const [{ exportSongs }, response] = await Promise.all([
			import('./export.ts'),
			fetch('/api/songs/all').catch(() => null),
		]);
		if (!response?.ok) shelf.problem = words.listLost;
		else saveFile(words.zipName, await exportSongs((await response.json()) as Song[]), 'application/zip');
	}
</script>

<main class="mx-auto grid max-w-7xl gap-4 p-4 sm:p-8">
	<Crumbs pages={[{ name: words.title }]} />
	<header class="flex flex-wrap items-end gap-3">
		<div class="flex-1">
			<h1 class="text-3xl font-bold">{words.title}</h1>
			<p class="mt-1 text-gray-600">{words.about}</p>
		</div>
		<Button onclick={() => begin('song')}>{words.newSong}</Button>
		<Button onclick={() => begin('text')}>{words.newText}</Button>
		<Button disabled={songs.length === 0 && shelf.list.length === 0} onclick={() => void exportAll()}
			>{words.exportAll}</Button
		>
	</header>
	<FileDrop
		label={words.add}
		accept={ACCEPT}
		drop={words.drop}
		hint={words.dropHint}
		onchoose={(files) => void shelf.importFiles([...files])}
	>
		{#if shelf.imported}
			{@const { added, same, failed, done, of } = shelf.imported}
			<div class="grid gap-2">
				{#if done < of}
					<p role="status">{words.importing(done, of)}</p>
					<Progressbar progress={(100 * done) / of} size="h-2" />
				{:else}
					<p class="flex items-center gap-3 font-semibold" role="status">
						<span>{words.imported(added.length)}</span>
						<Button size="sm" onclick={() => (shelf.imported = null)}>{words.close}</Button>
					</p>
				{/if}
				{#each same as each (each)}
					<p class="flex flex-wrap items-center gap-2">
						<span>{words.isSame(each.song.title, each.is.title)}</span>
						<Button size="sm" onclick={() => void shelf.decide(each, 'replace')}>{words.replace}</Button>
						<Button size="sm" onclick={() => void shelf.decide(each, 'beside')}>{words.beside}</Button>
					</p>
				{/each}
				{#each failed as { file, problem } (file)}
					<Warning><strong>{file}</strong>: {problem}</Warning>
				{/each}
			</div>
		{/if}
	</FileDrop>
	{#if shelf.problem}<Warning urgent>{shelf.problem}</Warning>{/if}
	{#if shelf.notice}
		<p class="flex items-center gap-3 rounded-sm border border-gray-400 bg-white px-3 py-2" role="status">
			<span class="flex-1">{shelf.notice.text}</span>
			<Button
				size="sm"
				onclick={() => {
					const undo = shelf.notice?.undo;
					shelf.notice = null;
					void undo?.();
				}}>{words.undo}</Button
			>
		</p>
	{/if}
	<div class="grid gap-6 md:grid-cols-[18rem_minmax(0,1fr)]">
		<nav class="grid content-start gap-2" aria-label={words.title}>
			<Input
				size="sm"
				bind:value={shelf.search}
				oninput={() => void shelf.refresh()}
				placeholder={words.search}
				aria-label={words.search}
			/>
			<p class="text-sm text-gray-600">{words.count(shelf.list.length)}</p>
			<ul class="grid max-h-[70vh] grid-cols-1 gap-1 overflow-y-auto">
				{#each shelf.list as { id, kind, title, begins } (id)}
					<li>
						<Button
							look="bare"
							class="w-full rounded-sm border border-l-8 px-3 py-2 text-left hover:bg-gray-100 {open?.id === id
								? 'border-gray-500 border-l-primary-700 bg-gray-100'
								: 'border-gray-300'}"
							aria-current={open?.id === id}
							onclick={() => void choose(id)}
						>
							<span class="block font-semibold">{title}{kind === 'text' ? ` · ${words.text}` : ''}</span>
							<span class="block truncate text-sm text-gray-600">{begins}</span>
						</Button>
					</li>
				{:else}
					<li class="rounded-sm border-2 border-dashed border-gray-300 p-4 text-gray-600">
						{shelf.search.trim() === '' ? words.empty : words.nothingFound}
					</li>
				{/each}
			</ul>
		</nav>
		{#if open}
			{@const { id, kind, song } = open}
			{#key id}
				<SongEditor {song} {kind} store={(changed) => shelf.put(id, changed)} onremove={() => void remove(id)} />
			{/key}
		{/if}
	</div>
</main>
