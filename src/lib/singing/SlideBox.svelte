<script lang="ts">
	/** A slide as it is seen, as large as its place allows. */
	import { BENEATH_SIZE, ROW_HEIGHT, type Fit, type Slide } from '../../core/words/cutting.ts';

	interface Props {
		slide: Slide | null;
		fit: Fit;
		/** Said instead where nothing is shown. */
		empty?: string;
		/** Of a whole screen. */
		tall?: boolean;
		/** Not seen yet. */
		dim?: boolean;
	}
	let { slide, fit, empty = '', tall = false, dim = false }: Props = $props();

	const columns = $derived(
		fit.languages === 'beside'
			? [0, 1].map((of) => slide?.rows.filter(({ language }) => language === of) ?? [])
			: [slide?.rows ?? []],
	);
	const partOf = (language: 0 | 1) => (fit.languages === 'beneath' && language === 1 ? BENEATH_SIZE : 1);
</script>

<!-- Sizes are those of a picture 1920 wide, as parts of the box. -->
<div
	class="@container grid place-content-center overflow-hidden rounded-sm bg-black text-center font-bold text-white {tall
		? 'aspect-video'
		: 'aspect-[16/2.6]'} {dim ? 'opacity-75' : ''}"
>
	{#if slide}
		<div class={columns.length > 1 ? 'grid grid-cols-2 gap-[4cqw]' : ''}>
			{#each columns as rows, column (column)}
				<div>
					{#each rows as row, i (i)}
						<p
							class="whitespace-nowrap {row.language === 1 && columns.length === 1 ? 'text-gray-300' : ''}"
							style:font-size="{(100 * slide.size * partOf(row.language)) / 1920}cqw"
							style:line-height={ROW_HEIGHT}
						>
							{row.text}
						</p>
					{/each}
				</div>
			{/each}
		</div>
	{:else}
		<p class="text-sm font-normal text-gray-300">{empty}</p>
	{/if}
</div>
