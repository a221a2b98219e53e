/**
 * By how much a picture is behind a sound, from somebody who claps in front of the camera: in the picture the moment at
 * which most changes, in the sound the onset (J. P. Bello et al., "A Tutorial on Onset Detection in Music Signals", IEEE
 * Trans. Speech Audio Process. 13, 2005: energy against what came just before).
 */
import { MAX_DELAY_MS } from './delay-estimate.ts';

/** How much of a picture changed from the one before: any unit that is 0 for none. */
export interface Motion {
	/** When the picture was shown, on the clock of the sound. */
	atMs: number;
	energy: number;
}

/** Why no delay can be estimated from claps. */
export type ClapRefusal = 'noClapHeard' | 'noClapSeen' | 'clapsDiffer';

export type ClapEstimate =
	| { /** Positive: the picture is later than the sound. */ delayMs: number; claps: number; spreadMs: number }
	| { refused: ClapRefusal };

const HOP_MS = 1;
/** An onset is this many times as strong as the mean of what came before. */
const ONSET_TIMES = 20;
const BEFORE_MS = 60;
/** What is this far below full scale is no clap. */
const LEAST_POWER = 10 ** (-45 / 10);
/** Claps are further apart than this; what comes sooner is the same one's echo. */
const APART_MS = 400;
/** A change in the picture stands out when it is this many times the usual one. */
const MOTION_TIMES = 4;
/** Fewer claps prove nothing. */
const LEAST_CLAPS = 2;
/** Claps that agree lie this near each other: a picture's length and a little. */
const AGREE_MS = 45;

/**
 * @param motion of each picture in turn
 * @param sound samples from `startMs` on
 */
export function estimateClap(
	motion: readonly Motion[],
	sound: Float32Array,
	startMs: number,
	rate = 48_000,
): ClapEstimate {
	const heard = onsets(sound, rate).map((ms) => startMs + ms);
	const seen = flashes(motion);
	if (heard.length === 0) return { refused: 'noClapHeard' };
	if (seen.length === 0) return { refused: 'noClapSeen' };
	const best = bestAgreement(seen, heard);
	if (best.length < LEAST_CLAPS)
		return {
			refused: 'clapsDiffer',
		};
	const sorted = best.toSorted((a, b) => a - b);
	return {
		delayMs: sorted[sorted.length >> 1]!,
		claps: sorted.length,
		spreadMs: sorted.at(-1)! - sorted[0]!,
	};
}

/** Milliseconds at which something begins suddenly. */
function onsets(sound: Float32Array, rate: number): number[] {
	const hop = Math.round((HOP_MS * rate) / 1000);
	const powers = Float64Array.from({ length: Math.floor(sound.length / hop) }, (_, i) => {
		let sum = 0;
		for (let at = i * hop; at < (i + 1) * hop; at++) sum += sound[at]! * sound[at]!;
		return sum / hop;
	});
	const found: number[] = [];
	let before = 0;
	for (let i = 0; i < powers.length; i++) {
		const mean = before / Math.min(Math.max(1, i), BEFORE_MS);
		const sudden = i >= BEFORE_MS && powers[i]! > LEAST_POWER && powers[i]! > ONSET_TIMES * mean;
		if (sudden && i - (found.at(-1) ?? -Infinity) > APART_MS) found.push(i);
		before += powers[i]! - (i >= BEFORE_MS ? powers[i - BEFORE_MS]! : 0);
	}
	return found.map((i) => i * HOP_MS);
}

/** When most of the picture changed: the first picture of each outburst that stands out. */
function flashes(motion: readonly Motion[]): number[] {
	const usual = motion.map(({ energy }) => energy).toSorted((a, b) => a - b)[motion.length >> 1] ?? 0;
	const highest = motion.reduce((most, { energy }) => Math.max(most, energy), 0);
	const found: number[] = [];
	for (const { atMs, energy } of motion) {
		if (energy <= MOTION_TIMES * usual || energy < highest / 4) continue;
		if (atMs - (found.at(-1) ?? -Infinity) > APART_MS) found.push(atMs);
	}
	return found;
}

/** The largest set of delays, one for each flash at most, that lie within AGREE_MS. */
function bestAgreement(seen: readonly number[], heard: readonly number[]): number[] {
	const delays = seen.flatMap((at) => heard.map((onset) => at - onset).filter((d) => Math.abs(d) <= MAX_DELAY_MS));
	let best: number[] = [];
	for (const from of delays) {
		const agreeing = seen.flatMap((at) => {
			const fitting = heard.map((onset) => at - onset).filter((d) => d >= from && d <= from + AGREE_MS);
			return fitting.length > 0 ? [Math.min(...fitting)] : [];
		});
		if (agreeing.length > best.length) best = agreeing;
	}
	return best;
}
