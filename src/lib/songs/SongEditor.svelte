<script lang="ts">
	/** A song or a text, changed as one types, with how it is cut beside it. It is stored as soon as it can be. */
	import { Helper, Input, Label, Textarea, Toggle } from 'flowbite-svelte';
	import { onDestroy, untrack } from 'svelte';
	import type { Song } from '../../core/words/song.ts';
	import Button from '../ui/Button.svelte';
	import { saveFile } from '../ui/save.ts';
	import { songs as words } from '../words/index.ts';
	import { draftOf, emptyDraft, songOfDraft } from './draft.ts';
	import Slides from './Slides.svelte';

	interface Props {
		/** Null for one that is not stored yet. */
		song: Song | null;
		kind: Song['kind'];
		/** @returns true when it is stored */
		store: (song: Song) => Promise<boolean>;
		onremove: () => void;
	}
	let { song, kind, store, onremove }: Props = $props();
	const id = $props.id();

	let draft = $state(untrack(() => (song ? draftOf(song) : emptyDraft(kind))));
	const made = $derived(songOfDraft(draft));
	const problem = $derived.by(() => {
		const { problem: found } = made;
		if (!found) return '';
		if (found.field === 'order') return words.orderUnknown(found.names);
		return words.cannotSave[found.field];
	});
	let stored = $state<'stored' | 'changed' | 'storing' | 'failed'>(untrack(() => (song ? 'stored' : 'changed')));

	/** So long after the last key. */
	const PAUSE_MS = 600;
	let timer: ReturnType<typeof setTimeout> | undefined;
	let storing: Promise<void> = Promise.resolve();

	function changed() {
		stored = 'changed';
		clearTimeout(timer);
		timer = setTimeout(save, PAUSE_MS);
	}
	function save() {
		clearTimeout(timer);
		timer = undefined;
		if (made.problem) return;
		const now = made.song;
		// One after the other, so that the last one stays.
		storing = storing.then(async () => {
			stored = 'storing';
			const isStored = await store(now);
			if (timer === undefined) stored = isStored ? 'stored' : 'failed';
		});
	}
	// What was typed last is not lost with the page's next song.
	onDestroy(() => timer !== undefined && save());

	function setSecond(has: boolean) {
		draft.languages = has ? [draft.languages[0]!, ''] : [draft.languages[0]!];
		draft.texts = has ? [draft.texts[0]!, ''] : [draft.texts[0]!];
		changed();
	}
	async function exportIt() {
		const { exportSong } = await import('./export.ts');
		const { blob, name } = exportSong(made.song);
		saveFile(name, blob, blob.type);
	}
</script>

<svelte:window
	onbeforeunload={(event) => {
		if (stored !== 'stored' && made.song.sections.length > 0) event.preventDefault();
	}}
/>

{#snippet line(name: 'title' | 'authors' | 'copyright' | 'licence' | 'source' | 'order', hint = '')}
	<div>
		<Label for="{id}-{name}">{name === 'title' ? words.name : words[name]}</Label>
		<Input
			id="{id}-{name}"
			class="mt-1"
			size="sm"
			aria-describedby={hint ? `${id}-${name}-hint` : undefined}
			bind:value={draft[name]}
			oninput={changed}
		/>
		{#if hint}<Helper id="{id}-{name}-hint" class="mt-1">{hint}</Helper>{/if}
	</div>
{/snippet}

<section class="grid gap-4" aria-label={draft.title || words.untitled}>
	<header class="flex flex-wrap items-center gap-2">
		<h2 class="min-w-0 flex-1 truncate text-2xl font-bold">{draft.title || words.untitled}</h2>
		<p role="status" class={stored === 'failed' || problem ? 'font-semibold text-air' : 'text-gray-600'}>
			{#if problem}{problem}{:else if stored === 'failed'}{words.notSaved}{:else if stored === 'stored'}{words.saved}{:else}{words.saving}{/if}
		</p>
		<Button size="sm" disabled={made.song.sections.length === 0} onclick={() => void exportIt()}
			>{words.exportOne}</Button
		>
		<Button size="sm" onclick={onremove}>{words.remove}</Button>
	</header>
	<div class="grid gap-6 xl:grid-cols-[minmax(0,1fr)_24rem]">
		<div class="grid content-start gap-3">
			<div class="grid gap-3 sm:grid-cols-2">
				{@render line('title')}
				{@render line('authors', words.authorsHint)}
				{@render line('copyright')}
				{#if draft.kind === 'song'}{@render line('licence', words.licenceHint)}{:else}{@render line(
						'source',
						words.sourceHint,
					)}{/if}
			</div>
			<Toggle checked={draft.languages.length > 1} onchange={({ currentTarget }) => setSecond(currentTarget.checked)}>
				{words.hasSecond}
			</Toggle>
			<div class="grid gap-3 {draft.languages.length > 1 ? 'sm:grid-cols-2' : ''}">
				{#each draft.texts as _, i (i)}
					<div class="grid content-start gap-2">
						{#if draft.languages.length > 1}
							<Label>
								{i === 0 ? words.language.first : words.language.second}
								<Input
									class="mt-1"
									size="sm"
									placeholder={words.languageHint}
									bind:value={draft.languages[i]}
									oninput={changed}
								/>
							</Label>
						{/if}
						<div>
							<Label for="{id}-text-{i}">{i === 0 ? words.words : words.secondWords}</Label>
							<Textarea
								id="{id}-text-{i}"
								class="mt-1 w-full font-sans"
								rows={18}
								aria-describedby="{id}-text-{i}-hint"
								bind:value={draft.texts[i]}
								oninput={changed}
							/>
							<Helper id="{id}-text-{i}-hint" class="mt-1">{i === 0 ? words.wordsHint : words.secondHint}</Helper>
						</div>
					</div>
				{/each}
			</div>
			{@render line('order', words.orderHint)}
		</div>
		<aside class="grid content-start gap-2">
			<div class="grid grid-cols-2 gap-2 text-sm font-semibold">
				<h3>{words.previewHall}</h3>
				<h3>{words.previewStream}</h3>
			</div>
			<Slides song={made.song} />
		</aside>
	</div>
</section>
