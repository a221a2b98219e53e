<script lang="ts">
	/** A recording at a glance: pictures along it, the shape of its sound, takes, and what is being cut. */
	import { untrack } from 'svelte';
	import type { Marker } from '../../core/show/broadcast/chapters.ts';
	import { peaksPath } from '../../core/sound/peaks.ts';
	import { clockOf } from '../words/index.ts';
	import { recordings as words } from '../words/index.ts';
	import { startJob } from './media.ts';

	interface Props {
		url: string;
		durationS: number;
		markers: Marker[];
		/** Where the player is. */
		atS: number;
		fromS: number | null;
		toS: number | null;
		onseek: (seconds: number) => void;
	}
	let { url, durationS, markers, atS, fromS, toS, onseek }: Props = $props();

	const PARTS = 600;
	const PICTURES = 10;
	const HEIGHT = 56;
	let images = $state.raw<(string | null)[]>(Array.from({ length: PICTURES }, () => null));
	let path = $state('');
	let problem = $state('');
	let hoveredS = $state<number | null>(null);
	const placeOf = (seconds: number) => `${Math.max(0, Math.min(100, (100 * seconds) / durationS))}%`;

	$effect(() => {
		const made: string[] = [];
		const job = startJob(
			{ job: 'overview', url: new URL(url, location.href).href, parts: PARTS, pictures: PICTURES },
			(message) => {
				if (message.type === 'peaks') path = peaksPath(message.heights, HEIGHT);
				if (message.type !== 'picture') return;
				const address = URL.createObjectURL(message.image);
				made.push(address);
				images = untrack(() => images).with(message.index, address);
			},
		);
		job.file.catch((error: Error) => (problem = error.message));
		return () => {
			job.cancel();
			for (const address of made) URL.revokeObjectURL(address);
		};
	});

	function secondsOf({ clientX, currentTarget }: MouseEvent): number {
		const { left, width } = (currentTarget as Element).getBoundingClientRect();
		return Math.max(0, Math.min(durationS, ((clientX - left) / width) * durationS));
	}
</script>

<div class="grid gap-1">
	<!-- Seeking by keyboard is the player's own; this is a picture of it for the hand. -->
	<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
	<div
		class="relative cursor-pointer overflow-hidden rounded-sm bg-ink"
		data-overview={path === '' ? 'reading' : 'read'}
		onclick={(event) => onseek(secondsOf(event))}
		onmousemove={(event) => (hoveredS = secondsOf(event))}
		onmouseleave={() => (hoveredS = null)}
	>
		<div class="grid h-12" style:grid-template-columns="repeat({PICTURES}, minmax(0, 1fr))">
			{#each images as image, i (i)}
				{#if image}<img class="size-full object-cover" src={image} alt="" />{:else}<span></span>{/if}
			{/each}
		</div>
		<svg
			class="block h-14 w-full"
			viewBox="0 0 {PARTS} {HEIGHT}"
			preserveAspectRatio="none"
			role="img"
			aria-label={words.soundAlongRecording}
		>
			<path d={path} class="fill-paper" />
		</svg>
		{#if fromS !== null || toS !== null}
			<div
				class="absolute inset-y-0 border-x-4 border-lamp bg-lamp/30"
				style:left={placeOf(fromS ?? 0)}
				style:right="calc(100% - {placeOf(toS ?? durationS)})"
			></div>
		{/if}
		{#each markers as { atS: markedS, kind }, i (i)}
			<span
				class="absolute bottom-0 h-4 {kind === 'marker' ? 'w-1 bg-lamp' : 'w-px bg-gray-300'}"
				style:left={placeOf(markedS)}
			></span>
		{/each}
		<span class="absolute inset-y-0 w-0.5 bg-white" style:left={placeOf(atS)}></span>
	</div>
	<p class="flex justify-between text-sm text-gray-600">
		<span
			>{#if problem}{words.overviewCouldNotMade(
					problem,
				)}{:else if path === ''}{words.readingRecording}{:else if hoveredS !== null}{words.pressGo(
					clockOf(hoveredS),
				)}{:else}{words.pressAnywhereGoThereAmber}{/if}</span
		>
		<span class="figures">{words.of(clockOf(atS), clockOf(durationS))}</span>
	</p>
</div>
