<script lang="ts">
	/** Slides as small pictures: how words are cut for hall and stream, each press beside the slide it belongs to. */
	import { cutSong, type Fit } from '../../core/words/cutting.ts';
	import { measureWords } from '../../core/words/measure.ts';
	import { HALL, STREAM } from '../../core/words/plain-fits.ts';
	import type { Song } from '../../core/words/song.ts';
	import { songs as words } from '../words/index.ts';
	import { sectionName } from './section-name.ts';
	import SlideRows from './SlideRows.svelte';

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
					<SlideRows {slide} languages={hallFit.languages} />
				</div>
				<ol class="grid gap-1">
					{#each cut.steps.slice(slide.firstStep, slide.firstStep + slide.steps) as step, i (i)}
						<li
							class="@container grid min-h-[18%] place-content-center rounded-sm bg-gray-700 py-1 text-center font-bold text-paper"
							aria-label={words.previewStream}
						>
							<SlideRows slide={step} languages={streamFit.languages} />
						</li>
					{/each}
				</ol>
			</div>
		</li>
	{/each}
</ol>
