<script lang="ts">
	/** How loud the last minutes were, against what the evening should come to. */
	import { CategoryScale, Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
	import type { DeskSession } from '../desk/session.svelte.ts';

	let { session, targetLufs }: { session: DeskSession; targetLufs: number } = $props();

	Chart.register(CategoryScale, LinearScale, LineController, LineElement, PointElement);
	const EVERY_MS = 1000;
	const KEPT = 600;
	const LEAST = -50;

	function draw(canvas: HTMLCanvasElement) {
		const colour = { short: '#ece7db', all: '#f0a830', target: '#6c7683' };
		const line = (label: string, borderColor: string, extra = {}) => ({
			label,
			data: [] as number[],
			borderColor,
			borderWidth: 2,
			pointRadius: 0,
			...extra,
		});
		const chart = new Chart(canvas, {
			type: 'line',
			data: {
				labels: [] as string[],
				datasets: [
					line('Last three seconds', colour.short),
					line('All so far', colour.all),
					line('Target', colour.target, { borderDash: [4, 4] }),
				],
			},
			options: {
				animation: false,
				maintainAspectRatio: false,
				events: [],
				scales: {
					x: { display: false },
					y: { min: LEAST, max: 0, ticks: { color: '#c3bcab', stepSize: 10 }, grid: { color: '#3a4452' } },
				},
			},
		});
		const timer = setInterval(() => {
			const mix = session.heard?.mix;
			if (!mix) return;
			const values = [mix.shortTerm, mix.integrated, targetLufs];
			chart.data.labels!.push('');
			chart.data.datasets.forEach(({ data }, i) => data.push(Math.max(LEAST, values[i]!)));
			if (chart.data.labels!.length > KEPT)
				for (const list of [chart.data.labels!, ...chart.data.datasets.map(({ data }) => data)]) list.shift();
			chart.update('none');
		}, EVERY_MS);
		return () => {
			clearInterval(timer);
			chart.destroy();
		};
	}
</script>

<figure class="relative h-28 min-w-0 overflow-hidden" aria-label="Loudness over the last ten minutes">
	<canvas {@attach draw}></canvas>
</figure>
