<script lang="ts">
	/** What high-pass and equaliser do, drawn over the pitches that people hear. */
	import type { Strip } from '../../core/show/mix/mix.ts';
	import { bandOf, highPass, responseDb } from '../../core/sound/biquad.ts';
	import { mix as words } from '../words/index.ts';

	let { strip }: { strip: Strip } = $props();

	const RATE = 48_000;
	const [WIDTH, HEIGHT, RANGE_DB] = [260, 90, 18];
	const x = (hz: number) => (WIDTH * Math.log(hz / 20)) / Math.log(1000);
	const y = (db: number) => HEIGHT / 2 - (HEIGHT / 2) * Math.max(-1, Math.min(1, db / RANGE_DB));
	const filters = $derived([
		...(strip.highPassHz > 0 ? [highPass(strip.highPassHz, RATE)] : []),
		...strip.eq.filter(({ gainDb }) => gainDb !== 0).map((band) => bandOf(band, RATE)),
	]);
	const curve = $derived(
		Array.from({ length: 66 }, (_, i) => {
			const hz = 20 * 1000 ** (i / 65);
			return `${i === 0 ? 'M' : 'L'}${x(hz).toFixed(1)} ${y(responseDb(filters, hz, RATE)).toFixed(1)}`;
		}).join(' '),
	);
</script>

<svg
	viewBox="0 0 {WIDTH} {HEIGHT + 14}"
	class="w-full max-w-md rounded-sm bg-ink"
	role="img"
	aria-label={words.curveEqualiser}
>
	{#each [100, 1000, 10_000] as hz (hz)}
		<line x1={x(hz)} x2={x(hz)} y1="0" y2={HEIGHT} class="stroke-slate-rule" />
		<text x={x(hz)} y={HEIGHT + 11} text-anchor="middle" class="fill-gray-300 text-[10px]"
			>{words.hz(hz < 1000 ? hz : `${hz / 1000}k`)}</text
		>
	{/each}
	<line x1="0" x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} class="stroke-gray-500" />
	<path d={curve} class="fill-none stroke-lamp" stroke-width="2" />
</svg>
