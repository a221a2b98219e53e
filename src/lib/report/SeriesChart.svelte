<script lang="ts">
	/** Lines over the time of a broadcast, each told apart by dashes as well as by colour. */
	import { Chart, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js';
	import type { Series } from '../../core/show/broadcast/report.ts';
	import { clockOf } from '../words/index.ts';
	import { report as words } from '../words/index.ts';

	interface Props {
		title: string;
		unit: string;
		series: Series[];
		/** Length of the broadcast. */
		lastsS: number;
		/** Drawn across, as what it should come to. */
		target?: number | null;
		/** The values are counts: nothing is marked between two of them. */
		counts?: boolean;
	}
	let { title, unit, series, lastsS, target = null, counts = false }: Props = $props();

	Chart.register(LinearScale, LineController, LineElement, PointElement, Tooltip);
	const LOOKS = [
		{ borderColor: '#12161c', borderDash: [] },
		{ borderColor: '#b87310', borderDash: [8, 3] },
		{ borderColor: '#3a6a8c', borderDash: [2, 3] },
		{ borderColor: '#7a2d5c', borderDash: [10, 3, 2, 3] },
	];
	const lookOf = (i: number) => LOOKS[i % LOOKS.length]!;
	const all = $derived([
		...series,
		...(target === null
			? []
			: [
					{
						name: words.targetLine(target, unit),
						points: [
							{ x: 0, y: target },
							{ x: lastsS, y: target },
						],
					},
				]),
	]);
	const empty = $derived(series.every(({ points }) => points.every(({ y }) => y === null)));

	function draw(canvas: HTMLCanvasElement) {
		const chart = new Chart(canvas, {
			type: 'line',
			data: {
				datasets: all.map(({ name, points }, i) => ({
					label: name,
					data: points as { x: number; y: number }[],
					...lookOf(i),
					borderWidth: 2,
					// A point alone between gaps would not be seen as a line.
					pointRadius: i < series.length && points.length < 3 ? 3 : 0,
					pointHitRadius: 8,
				})),
			},
			options: {
				animation: false,
				maintainAspectRatio: false,
				scales: {
					x: {
						type: 'linear',
						min: 0,
						max: lastsS,
						ticks: { callback: (value) => clockOf(Number(value)), maxTicksLimit: 7 },
					},
					y: {
						...(target === null ? { min: 0 } : {}),
						...(counts ? { suggestedMax: 5 } : {}),
						ticks: { maxTicksLimit: 6, ...(counts ? { precision: 0 } : {}) },
					},
				},
				plugins: {
					tooltip: { callbacks: { title: ([item]) => (item ? clockOf(item.parsed.x ?? 0) : '') } },
				},
			},
		});
		return () => chart.destroy();
	}
</script>

<figure class="grid gap-1 rounded-sm border border-gray-300 bg-white p-3">
	<figcaption class="font-semibold">
		{title}
		{#if unit}<span class="font-normal text-gray-600">({unit})</span>{/if}
	</figcaption>
	{#if empty}
		<p class="grid h-40 place-items-center border-2 border-dashed border-gray-300 text-gray-600">
			{words.nothingMeasured}
		</p>
	{:else}
		<div class="relative h-40 min-w-0"><canvas {@attach draw}></canvas></div>
		<ul class="flex flex-wrap gap-x-4 text-sm">
			{#each all as { name }, i (i)}
				<li class="flex items-center gap-1">
					<svg class="h-2 w-8" aria-hidden="true"
						><line
							x1="0"
							y1="4"
							x2="32"
							y2="4"
							stroke={lookOf(i).borderColor}
							stroke-width="2"
							stroke-dasharray={lookOf(i).borderDash.join(' ')}
						/></svg
					>{name}
				</li>
			{/each}
		</ul>
	{/if}
</figure>
