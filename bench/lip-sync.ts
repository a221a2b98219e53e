/** Sound against picture of a stream in which something flashes and clicks at once. */
import { sound, type frames } from '../tests/support/see.ts';
import { median } from './table.ts';

/** Flashes at the start lie within this time of the first one. */
const FLASHES_S = 20;

/** Frames around a flash that must all have been received for it to be judged by its first one, seconds. */
const AROUND_S = 0.3;
/** Two frames of 30 in a second are further apart than this only when one between them was left out. */
const LEFT_OUT_S = 1.5 / 30;

interface LipSync {
	/** How much later the click is than the flash, milliseconds: medians at the start of a stream and after that. */
	first: number;
	last: number;
	/** The furthest apart, either way: of all, and of those around which no frame was left out. */
	worst: number;
	worstWhole: number;
	count: number;
	countWhole: number;
	/** Each flash with its click: seconds into the stream, milliseconds apart. */
	pairs: { time: number; ms: number; isWhole: boolean }[];
}

/**
 * How far flashes and clicks of a received stream are apart.
 * @throws when hardly any were found
 */
export async function lipSync(file: string, seen: Awaited<ReturnType<typeof frames>>): Promise<LipSync> {
	const mean = (luma: Uint8Array) => luma.reduce((sum, value) => sum + value, 0) / luma.length;
	const light = seen.map(({ luma }) => mean(luma));
	const flashes = seen.filter((_, i) => i > 0 && light[i]! > 200 && light[i - 1]! < 80).map(({ time }) => time);
	const gaps = seen.filter(({ time }, i) => i > 0 && time - seen[i - 1]!.time > LEFT_OUT_S).map(({ time }) => time);
	const isWhole = (flash: number) => !gaps.some((time) => Math.abs(time - flash) < AROUND_S);
	const { startsAt, samples } = await sound(file);
	const pairs = flashes.flatMap((flash) => {
		// The first sample of the click within a quarter second around the flash.
		const from = Math.round((flash - 0.25 - startsAt) * 48_000);
		if (from < 0) return [];
		const at = samples.subarray(from, from + 24_000).findIndex((sample) => Math.abs(sample) > 0.15);
		return at < 0
			? []
			: [{ time: flash, ms: ((from + at) / 48_000 + startsAt - flash) * 1000, isWhole: isWhole(flash) }];
	});
	if (pairs.length < 4) throw new Error(`Only ${pairs.length} flashes with a click were found`);
	const isStart = ({ time }: { time: number }) => time < pairs[0]!.time + FLASHES_S;
	const whole = pairs.filter((pair) => pair.isWhole);
	// Nothing that was measured holds no limit.
	const worstOf = (some: typeof pairs) => (some.length > 0 ? Math.max(...some.map(({ ms }) => Math.abs(ms))) : NaN);
	return {
		first: median(pairs.filter(isStart).map(({ ms }) => ms)),
		last: median(pairs.filter((pair) => !isStart(pair)).map(({ ms }) => ms)),
		worst: worstOf(pairs),
		worstWhole: worstOf(whole),
		count: pairs.length,
		countWhole: whole.length,
		pairs,
	};
}
