<script lang="ts">
	/** All lines of what is sung, part by part; each is a press away. */
	import { Textarea } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import type { WordsItem } from '../../core/show/words/words.ts';
	import type { Cut } from '../../core/words/cutting.ts';
	import { useSession } from '../show/context.ts';
	import { draftOf, songOfDraft } from '../songs/draft.ts';
	import { sectionName } from '../songs/section-name.ts';
	import Button from '../ui/Button.svelte';
	import { TEXTAREA } from '../ui/theme.ts';
	import { singing as words, songs as songWords } from '../words/index.ts';
	import { partAfter, partAgain } from './jump.ts';

	interface Props {
		item: WordsItem;
		cut: Cut;
		step: number;
		/** Keys that jump. */
		letters: string;
	}
	let { item, cut, step, letters }: Props = $props();
	const session = useSession();

	const show = (at: number) => session.do({ type: 'showWords', itemId: item.id, step: at });
	const again = $derived(partAgain(cut, step));
	const after = $derived(partAfter(cut, step));
	let correcting = $state(false);
	let draft = $state(untrack(() => draftOf(item.song)));
	function begin() {
		draft = draftOf(item.song);
		correcting = true;
	}
	function correct() {
		const { song, problem } = songOfDraft(draft);
		if (!problem) session.do({ type: 'changeWords', item: { ...item, song } });
	}
	/** What stands stays in sight, with what is around it. */
	function seen(line: HTMLElement, isNow: boolean) {
		if (isNow) line.scrollIntoView({ block: 'center' });
	}
</script>

<section class="panel flex min-h-0 flex-col gap-2 p-2" aria-label={words.lines}>
	<h2 class="flex flex-wrap items-baseline gap-x-4">
		<strong class="min-w-0 truncate text-lg">{item.song.title}</strong>
		<span class="text-sm text-gray-300">{words.jumpHint(letters)}</span>
	</h2>
	<div class="flex flex-wrap gap-2">
		<Button size="touch" onpress={() => show(0)}>{words.repeat}</Button>
		<Button size="touch" disabled={again === null} onpress={() => show(again!)}>{words.repeatPart}</Button>
		<Button size="touch" disabled={after === null} onpress={() => show(after!)}>{words.skipPart}</Button>
		<Button size="touch" aria-pressed={correcting} onclick={() => (correcting ? (correcting = false) : begin())}
			>{correcting ? words.done : words.correct}</Button
		>
	</div>
	{#if correcting}
		<p class="text-sm text-gray-300">{words.correctHint}</p>
		<div class="grid min-h-0 flex-1 gap-2 {draft.texts.length > 1 ? 'grid-cols-2' : ''}">
			{#each draft.texts as _, i (i)}
				<Textarea
					class="{TEXTAREA} min-h-40"
					aria-label={i === 0 ? songWords.words : songWords.secondWords}
					bind:value={draft.texts[i]}
					oninput={correct}
				/>
			{/each}
		</div>
	{:else}
		<ol class="grid min-h-0 flex-1 auto-rows-min gap-1 overflow-y-auto">
			{#each cut.steps as { rows, section }, at (at)}
				{@const isNow = at === step}
				{@const isNext = at === step + 1}
				<li class="grid grid-cols-[6.5rem_minmax(0,1fr)] items-start gap-2" {@attach (line) => seen(line, isNow)}>
					<span class="pt-2 text-sm text-gray-300">
						{cut.steps[at - 1]?.section === section ? '' : sectionName(cut.sections[section]!)}
					</span>
					<Button
						look="bare"
						class="flex min-h-11 w-full items-center gap-2 rounded-sm border-4 px-2 py-1 text-left {isNow
							? 'border-paper bg-gray-700 font-semibold'
							: isNext
								? 'border-double border-lamp'
								: 'border-transparent hover:border-slate-rule'}"
						aria-current={isNow ? 'step' : undefined}
						onpress={() => show(at)}
					>
						<span class="flex-1"
							>{#each rows as row, i (i)}<span class="block {row.language === 1 ? 'text-gray-300' : ''}"
									>{row.text}</span
								>{/each}</span
						>
						{#if isNow}<strong>{words.on}</strong>{:else if isNext}<strong class="text-lamp">{words.next}</strong>{/if}
					</Button>
				</li>
			{/each}
		</ol>
	{/if}
</section>
