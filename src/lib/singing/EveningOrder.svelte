<script lang="ts">
	/** What is sung and read at this event, in order; and songs of the library to be added. */
	import { Input } from 'flowbite-svelte';
	import { ArrowUpOutline, TrashBinOutline } from 'flowbite-svelte-icons';
	import { COMMAND_RULES } from '../../core/access/policy.ts';
	import { batchOf, type SingleCommand } from '../../core/show/command.ts';
	import { plainWordsOverlay } from '../../core/show/overlays/overlay.ts';
	import type { WordsItem } from '../../core/show/words/words.ts';
	import type { Song, SongLine } from '../../core/words/song.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import { sorted } from '../ui/sorted.ts';
	import { singing as words, songs as songWords } from '../words/index.ts';
	import { page } from '$app/state';

	const session = useSession();
	const show = $derived(session.state);
	const { items } = $derived(show.setup.words);

	const mayAddOverlays = $derived(page.data.role != null && COMMAND_RULES.addOverlay.includes(page.data.role));

	let found = $state.raw<SongLine[] | null>(null);
	let search = $state('');
	let asked = 0;
	async function look() {
		const mine = ++asked;
		const response = await fetch(`/api/songs?search=${encodeURIComponent(search)}`).catch(() => null);
		if (mine !== asked) return;
		if (response?.ok) found = (await response.json()) as SongLine[];
		else session.notify(songWords.listLost);
	}
	async function add(songId: string) {
		const response = await fetch(`/api/songs/${songId}`).catch(() => null);
		if (!response?.ok) return session.notify(songWords.songLost);
		const song = (await response.json()) as Song;
		const commands: SingleCommand[] = [{ type: 'addWords', item: { id: newId(), songId, song } }];
		// The first song brings what shows it.
		if (mayAddOverlays && !show.setup.overlays.some(({ kind }) => kind === 'words')) {
			const overlay = plainWordsOverlay(newId(), words.overlayName);
			commands.push({ type: 'addOverlay', overlay }, { type: 'showOverlay', overlayId: overlay.id });
		}
		session.doWithUndo(batchOf(commands), words.added(song.title));
	}
	const dragged = sorted((from, to) => session.do({ type: 'moveWords', itemId: items[from]!.id, at: to }), {
		draggable: '[data-words]',
	});
	function remove({ id: itemId, song }: WordsItem) {
		session.doWithUndo({ type: 'removeWords', itemId }, words.removed(song.title));
	}
</script>

<section class="panel flex min-h-0 flex-col gap-2 p-2" aria-label={words.order}>
	<h2 class="font-semibold">{words.order}</h2>
	<ol class="grid auto-rows-min grid-cols-1 gap-1 overflow-y-auto" {@attach dragged}>
		{#each items as item, at (item.id)}
			{@const { id, song } = item}
			{@const isNow = id === show.live.words.itemId}
			<li class="flex items-stretch gap-0.5" data-words={id}>
				<Button
					look="bare"
					class="min-h-11 min-w-0 flex-1 rounded-sm border-l-8 px-2 py-1 text-left {isNow
						? 'border-l-paper bg-gray-700'
						: 'border-l-transparent hover:bg-gray-700'}"
					aria-current={isNow}
					onpress={() => session.do({ type: 'showWords', itemId: id, step: -1 })}
				>
					<span class="block font-semibold">{song.title}</span>
					<span class="block truncate text-sm text-gray-300">{song.sections[0]?.lines[0]?.[0] ?? ''}</span>
				</Button>
				<Button
					look="icon"
					disabled={at === 0}
					aria-label={words.earlier(song.title)}
					onclick={() => session.do({ type: 'moveWords', itemId: id, at: at - 1 })}
					><ArrowUpOutline class="size-4" /></Button
				>
				<Button look="icon" aria-label={words.remove(song.title)} onclick={() => remove(item)}
					><TrashBinOutline class="size-4" /></Button
				>
			</li>
		{:else}
			<li class="border-2 border-dashed border-gray-500 p-2 text-gray-300">{words.empty}</li>
		{/each}
	</ol>
	{#if found === null}
		<Button size="touch" onclick={() => void look()}>{words.add}</Button>
	{:else}
		<Input
			size="sm"
			bind:value={search}
			oninput={() => void look()}
			placeholder={words.search}
			aria-label={words.search}
		/>
		<ul class="grid auto-rows-min grid-cols-1 gap-1 overflow-y-auto" aria-label={words.add}>
			{#each found as { id, title, begins } (id)}
				<li>
					<Button
						look="bare"
						class="min-h-11 w-full rounded-sm px-2 py-1 text-left hover:bg-gray-700"
						onclick={() => void add(id)}
					>
						<span class="block font-semibold">+ {title}</span>
						<span class="block truncate text-sm text-gray-300">{begins}</span>
					</Button>
				</li>
			{:else}
				<li class="text-gray-300">
					{search.trim() === '' ? words.libraryEmpty : words.nothingFound}
					<a class="underline" href="/songs" target="_blank" rel="noreferrer">{words.toLibrary}</a>
				</li>
			{/each}
		</ul>
		<Button size="touch" onclick={() => (found = null)}>{words.done}</Button>
	{/if}
</section>
