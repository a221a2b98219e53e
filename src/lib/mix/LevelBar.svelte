<script lang="ts">
	/** Levels of two sides with their highest marks. The bars are one small canvas, drawn as often as levels are read. */
	import { untrack } from 'svelte';
	import { useSession } from '../show/context.ts';
	import type { Level } from '../show/levels.ts';

	interface Props {
		/** A channel's id, or that of the mix. */
		of: string;
		/** What is said of it a few times a second; null while nothing is known. */
		heard: Level | null;
		label: string;
		/** Draws the figures below. */
		scale?: boolean;
		thin?: boolean;
	}
	let { of, heard, label, scale = false, thin = false }: Props = $props();
	const session = useSession();

	const FLOOR_DB = -60;
	const HIGH_DB = -3;
	const MARKS = [-60, -40, -20, -10, 0];
	const NOTHING: Level = { levelDb: [FLOOR_DB, FLOOR_DB], holdDb: [FLOOR_DB, FLOOR_DB] };
	/** Part of the bar's length, 0 to 1. */
	const place = (db: number) => Math.min(1, Math.max(0, (db - FLOOR_DB) / -FLOOR_DB));
	const loudest = $derived(Math.max(...(heard ?? NOTHING).levelDb));

	let canvas: HTMLCanvasElement;
	let width = $state(0);
	/** Of one bar, and between two, in pixels of the page. */
	const bar = $derived(thin ? 4 : 8);
	const gap = $derived(thin ? 1 : 2);
	/** What is on the canvas: the same is not drawn again. */
	let drawn = '';

	function draw({ levelDb, holdDb }: Level): void {
		const [w, h] = [canvas.width, canvas.height];
		const bars = levelDb.map((db, side) => [
			Math.round(place(db) * w),
			db > HIGH_DB,
			Math.round(place(holdDb[side]!) * w),
		]);
		const what = String([w, ...bars, holdDb.map((db) => db >= 0)]);
		const context = what === drawn ? null : canvas.getContext('2d');
		if (!context) return;
		drawn = what;
		const style = getComputedStyle(canvas);
		const colour = (name: string) => style.getPropertyValue(`--color-${name}`);
		context.clearRect(0, 0, w, h);
		const thick = (h * bar) / (2 * bar + gap);
		bars.forEach(([length, isHigh, hold], side) => {
			const y = side * (h - thick);
			const fill = (name: string, x: number, long: number) => {
				context.fillStyle = colour(name);
				context.fillRect(x, y, long, thick);
			};
			fill('gray-700', 0, w);
			fill(isHigh ? 'lamp' : 'gray-300', 0, Number(length));
			if (Number(hold) > 0) fill(holdDb[side]! >= 0 ? 'air' : 'paper', Number(hold) - 2, 2);
		});
	}
	$effect(() => session.levels.follow(of, draw));
	$effect(() => {
		canvas.width = Math.max(1, Math.round(width * devicePixelRatio));
		canvas.height = Math.round((2 * bar + gap) * devicePixelRatio);
		drawn = '';
		draw(untrack(() => heard) ?? NOTHING);
	});
	$effect(() => draw(heard ?? NOTHING));
</script>

<div
	class={thin ? 'my-0.5' : 'my-1.5'}
	role="meter"
	aria-label={label}
	aria-valuemin={FLOOR_DB}
	aria-valuemax={0}
	aria-valuenow={Math.max(FLOOR_DB, Math.round(loudest))}
>
	<div bind:clientWidth={width}>
		<canvas bind:this={canvas} class="block w-full" style:height="{2 * bar + gap}px"></canvas>
	</div>
	{#if scale}
		<div class="figures relative h-4 text-xs text-gray-300" aria-hidden="true">
			{#each MARKS as mark (mark)}
				<span
					class="absolute {mark === FLOOR_DB ? '' : mark === 0 ? '-translate-x-full' : '-translate-x-1/2'}"
					style:left="{place(mark) * 100}%">{mark}</span
				>
			{/each}
		</div>
	{/if}
</div>
