<script lang="ts">
	/** A slide as it is seen, as large as its place allows. */
	import type { Fit, Slide } from '../../core/words/cutting.ts';
	import SlideRows from '../songs/SlideRows.svelte';

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
</script>

<div
	class="@container grid place-content-center overflow-hidden rounded-sm bg-black text-center font-bold text-white {tall
		? 'aspect-video'
		: 'aspect-[16/2.6]'} {dim ? 'opacity-75' : ''}"
>
	{#if slide}
		<SlideRows {slide} languages={fit.languages} />
	{:else}
		<p class="text-sm font-normal text-gray-300">{empty}</p>
	{/if}
</div>
