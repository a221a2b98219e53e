<script lang="ts">
	/** Slides as small pictures: how words are cut for hall and stream, each press beside the slide it belongs to. */
	import { cutSong, BENEATH_SIZE, ROW_HEIGHT, type Fit, type Slide } from '../../core/words/cutting.ts';
	import { measureWords } from '../../core/words/measure.ts';
	import { HALL, STREAM } from '../../core/words/plain-fits.ts';
	import type { Song } from '../../core/words/song.ts';
	import { songs as words } from '../words/index.ts';
	import { sectionName } from './section-name.ts';

	interface Props {
		song: Pick<Song, 'sections' | 'order' | 'languages'>;
		hall?: Fit;
		stream?: Fit;
	}
	let { song, hall, stream }: Props = $props();

	const hallFit = $derived(
		hall ?? { ...HALL, languages: song.languages.length > 1 ? ('beneath' as const) : HALL.languages },
	);
	const streamFit = $derived(stream ?? STREAM);
	const cut = $derived(cutSong(song, hallFit, streamFit, measureWords));
</script>

{#snippet rows({ rows: shown, size }: Slide, fit: Fit)}
	<!-- Sizes are those of a picture 1920 wide, as parts of the box. -->
	{#if fit.languages === 'beside'}
		<div class="grid grid-cols-2 gap-[5cqw]">
			{#each [0, 1] as language (language)}
				<div>
					{#each shown.filter((row) => row.language === language) as row, i (i)}
						<p style:font-size="{(100 * size) / 1920}cqw" style:line-height={ROW_HEIGHT}>{row.text}</p>
					{/each}
				</div>
			{/each}
		</div>
	{:else}
		{#each shown as row, i (i)}
			{@const part = row.language === 1 ? BENEATH_SIZE : 1}
			<p
				class="whitespace-nowrap {row.language === 1 ? 'text-gray-300' : ''}"
				style:font-size="{(100 * size * part) / 1920}cqw"
				style:line-height={ROW_HEIGHT}
			>
				{row.text}
			</p>
		{/each}
	{/if}
{/snippet}

<ol class="grid gap-2" aria-label={words.preview}>
	{#each cut.slides as slide, index (index)}
		{@const section = cut.sections[slide.section]!}
		<li class="grid gap-1">
			{#if cut.slides[index - 1]?.section !== slide.section}
				<h4 class="text-sm font-semibold text-gray-600">{sectionName(section)}</h4>
			{/if}
			<div class="grid grid-cols-2 items-start gap-2">
				<div
					class="@container grid aspect-video place-content-center overflow-hidden rounded-sm bg-ink text-center font-bold text-paper"
					aria-label={words.previewHall}
					role="group"
				>
					<div>{@render rows(slide, hallFit)}</div>
				</div>
				<ol class="grid gap-1">
					{#each cut.steps.slice(slide.firstStep, slide.firstStep + slide.steps) as step, i (i)}
						<li
							class="@container grid min-h-[18%] place-content-center rounded-sm bg-gray-700 py-1 text-center font-bold text-paper"
							aria-label={words.previewStream}
						>
							<div>{@render rows(step, streamFit)}</div>
						</li>
					{/each}
				</ol>
			</div>
		</li>
	{/each}
</ol>
