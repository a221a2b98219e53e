/**
 * Where a recording belongs beside another one that holds the same voice: found from delays that were measured at some of its
 * moments. Two machines' clocks differ by some millionths, which is a frame within ten minutes: how fast the one goes by the other
 * is found as well (P. K. Sen, "Estimates of the Regression Coefficient Based on Kendall's Tau", J. Am. Stat. Assoc. 63,
 * 1968).
 */

/** One moment at which both were compared. */
export interface Look {
	/** Within the recording that is to be placed, seconds. */
	atS: number;
	/** Where the same is heard in the other one, seconds. */
	thereS: number;
}

export interface Placed {
	/** Where the recording begins in the other one, seconds. */
	beginsS: number;
	/** Seconds of the other one for each of its own. */
	rate: number;
	/** True when it is right to half a frame; where the other one was made by a machine that stood still now and then it cannot be. */
	isExact: boolean;
}

/** Looks that agree this well are right: half a frame. */
const AGREE_S = 0.016;
/** Looks that are this near to each other found the same sentence at least. */
const NEAR_S = 0.25;
/** So many of them at least make sure of it, and such a part of all: what found another sentence lies anywhere. */
const LEAST = 4;
const LEAST_PART = 0.4;
/** No clock of a computer is further off. */
const MOST_DRIFT = 500e-6;
/** Over less time than this a difference of clocks cannot be told from an uneven line. */
const LEAST_SPAN_S = 60;

/** @returns null when the looks do not agree on one place */
export function placeBy(looks: readonly Look[]): Placed | null {
	const begins = looks.map(({ atS, thereS }) => thereS - atS);
	// Whatever the clocks do, what is far from the others is another sentence.
	const span = Math.max(...looks.map(({ atS }) => atS)) - Math.min(...looks.map(({ atS }) => atS));
	const reach = NEAR_S + MOST_DRIFT * span;
	const nearTo = (begin: number) => looks.filter((_, i) => Math.abs(begins[i]! - begin) < reach);
	const near = begins.map(nearTo).reduce((most, each) => (each.length > most.length ? each : most), []);
	if (near.length < LEAST || near.length < looks.length * LEAST_PART) return null;
	const slopes = near.flatMap((a, i) =>
		near.slice(i + 1).flatMap((b) => {
			const apart = b.atS - a.atS;
			return Math.abs(apart) < LEAST_SPAN_S ? [] : [(b.thereS - a.thereS) / apart];
		}),
	);
	const slope = slopes.length > 0 ? median(slopes) : 1;
	const rate = Math.abs(slope - 1) > MOST_DRIFT ? 1 : slope;
	const beginsS = median(near.map(({ atS, thereS }) => thereS - rate * atS));
	const agreeing = near.filter(({ atS, thereS }) => Math.abs(thereS - rate * atS - beginsS) < AGREE_S);
	return { beginsS, rate, isExact: agreeing.length >= LEAST && agreeing.length > near.length / 2 };
}

/** Of some values. */
function median(values: readonly number[]): number {
	const sorted = values.toSorted((a, b) => a - b);
	const middle = sorted.length >> 1;
	return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
