<script lang="ts">
	/** Rows of a slide. Sizes are those of a picture 1920 wide, as parts of what holds them, which is a size container. */
	import { BENEATH_SIZE, ROW_HEIGHT, type Fit, type Slide } from '../../core/words/cutting.ts';

	interface Props {
		slide: Slide;
		languages: Fit['languages'];
	}
	let { slide, languages }: Props = $props();

	const columns = $derived(
		languages === 'beside' ? [0, 1].map((of) => slide.rows.filter(({ language }) => language === of)) : [slide.rows],
	);
	const isBeneath = (language: 0 | 1) => languages === 'beneath' && language === 1;
</script>

<div class={columns.length > 1 ? 'grid grid-cols-2 gap-[4cqw]' : ''}>
	{#each columns as rows, column (column)}
		<div>
			{#each rows as { text, language }, i (i)}
				<p
					class="whitespace-nowrap {isBeneath(language) ? 'opacity-75' : ''}"
					style:font-size="{(100 * slide.size * (isBeneath(language) ? BENEATH_SIZE : 1)) / 1920}cqw"
					style:line-height={ROW_HEIGHT}
				>
					{text}
				</p>
			{/each}
		</div>
	{/each}
</div>
