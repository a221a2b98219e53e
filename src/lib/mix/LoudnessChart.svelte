<script lang="ts">
	/** How loud the evening has been, against what it should come to. */
	import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
	import { format } from 'date-fns';
	import { untrack } from 'svelte';
	import { useSession } from '../show/context.ts';
	import { mix as words } from '../words/index.ts';
	import { LoudnessCurve, type LoudnessPoint } from './loudness-curve.ts';

	interface Props {
		targetLufs: number;
		/** What was measured of this broadcast before the page was opened. */
		known: readonly LoudnessPoint[];
	}
	let { targetLufs, known }: Props = $props();
	const session = useSession();

	Chart.register(LinearScale, LineController, LineElement, PointElement);
	const EVERY_MS = 1000;
	const LEAST = -50;
	const curve = new LoudnessCurve(untrack(() => known));
	const point = (at: number, lufs: number) => ({ x: at, y: Math.max(LEAST, lufs) });

	function draw(canvas: HTMLCanvasElement) {
		const colour = { short: '#ece7db', all: '#f0a830', target: '#6c7683' };
		const line = (label: string, borderColor: string, extra = {}) => ({
			label,
			data: [] as { x: number; y: number }[],
			borderColor,
			borderWidth: 1,
			pointRadius: 0,
			...extra,
		});
		const chart = new Chart(canvas, {
			type: 'line',
			data: {
				datasets: [
					line(words.lastThreeSeconds, colour.short),
					line(words.sinceStart, colour.all, { borderWidth: 3 }),
					line('Target', colour.target, { borderDash: [4, 4] }),
				],
			},
			options: {
				animation: false,
				maintainAspectRatio: false,
				events: [],
				scales: {
					x: {
						type: 'linear',
						ticks: {
							color: '#c3bcab',
							maxTicksLimit: 4,
							maxRotation: 0,
							callback: (value) => format(Number(value), 'HH:mm:ss'),
						},
						grid: { display: false },
					},
					y: { min: LEAST, max: 0, ticks: { color: '#c3bcab', stepSize: 10 }, grid: { color: '#3a4452' } },
				},
			},
		});
		const show = () => {
			const { points } = curve;
			const [short, all, target] = chart.data.datasets;
			short!.data = points.map(({ at, shortTerm }) => point(at, shortTerm));
			all!.data = points.map(({ at, integrated }) => point(at, integrated));
			const [from, to] = [points[0]?.at ?? 0, points.at(-1)?.at ?? 0];
			target!.data = [point(from, targetLufs), point(to, targetLufs)];
			Object.assign(chart.options.scales!.x!, { min: from, max: to });
			chart.update('none');
		};
		const timer = setInterval(() => {
			const mix = session.heard?.mix;
			if (!mix) return;
			curve.add({
				at: Date.now() + session.show.clockOffsetMs,
				shortTerm: mix.shortTerm,
				integrated: mix.integrated,
			});
			show();
		}, EVERY_MS);
		return () => {
			clearInterval(timer);
			chart.destroy();
		};
	}
</script>

<figure class="grid min-w-0 gap-1" aria-label={words.howLoudEveningBeen}>
	<div class="relative h-28 min-w-0 overflow-hidden"><canvas {@attach draw}></canvas></div>
	<figcaption class="text-xs text-gray-300">{words.thin3SecondsThickSince}</figcaption>
</figure>
