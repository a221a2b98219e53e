/**
 * Finds where something on a scrolling page has gone, so that a privacy patch goes with it. The rows of the picture
 * are compared with those of the moment when the patch was placed, never with the last frame's, so that small errors
 * do not add up. What is not certain is said to be so.
 */
import type { Rect, Size } from './geometry.ts';
import type { Planes } from './planes.ts';

/** A position is known to an eighth of a pixel, so a row may differ by about that part of its step to the next. */
const SLOPE = 0.15;
/** A row is described by the means of so many parts of its width. */
const PARTS = 24;
/** Rows are the same when their means differ by no more than this on average: noise and rounding. */
const SAME_ROW = 2.5;
/** A row whose neighbour is the same says nothing about where the page is. */
const TEXTURE = 4;
/** Share of distinctive rows that must agree on one shift, and the most that may agree on any other. */
const CERTAIN = 0.8;
const DOUBTFUL = 0.5;
/** Fewer telling rows than this are chance. */
const LEAST_ROWS = 16;
/** Number of distinctive rows that the search tries first. */
const ASKED_FIRST = 64;
const QUARTERS = 4;
/** Pixels around the area that are patched as well, for what lies between two pixels. */
const MARGIN = 4;

/** Means of parts of each row, one row after another. */
type Rows = Float32Array;

export class PageFollower {
	#anchor: Rows | null = null;
	#size: Size = { width: 0, height: 0 };
	/** Pixels that the page has moved down since it was anchored; between pixels in quarters. */
	#moved = 0;

	/**
	 * @param area in pixels, as it was placed on the first picture that is looked at
	 * @returns the area as it lies now, which may be outside of the picture; null when that is not certain
	 */
	follow(bytes: Uint8Array, planes: Planes, area: Rect): Rect | null {
		const { width, height } = planes;
		const rows = rowsOf(bytes, planes);
		if (!this.#anchor) {
			this.#anchor = rows;
			this.#size = { width, height };
			return grown(area, 0);
		}
		// Another size of the window is another layout of the page: where things are in it is not known.
		if (width !== this.#size.width || height !== this.#size.height) return null;
		const moved = shiftBetween(this.#anchor, rows, height, this.#moved, area);
		if (moved === null) return null;
		this.#moved = moved;
		return grown(area, moved);
	}
}

function grown({ x, y, width, height }: Rect, moved: number): Rect {
	return { x: x - MARGIN, y: y + moved - MARGIN, width: width + 2 * MARGIN, height: height + 2 * MARGIN };
}

function rowsOf(bytes: Uint8Array, { y: at, strideY, width, height }: Planes): Rows {
	const rows = new Float32Array(height * PARTS);
	for (let y = 0; y < height; y++)
		for (let part = 0; part < PARTS; part++) {
			const from = Math.floor((part * width) / PARTS);
			const to = Math.max(from + 1, Math.floor(((part + 1) * width) / PARTS));
			// Every other pixel says enough of a row.
			let [sum, count] = [0, 0];
			for (let x = from; x < to; x += 2, count++) sum += bytes[at + y * strideY + x]!;
			rows[y * PARTS + part] = sum / count;
		}
	return rows;
}

/** Mean difference of row `y` of `now` and what lies at `at` in `then`, between rows if need be. */
function rowDifference(now: Rows, y: number, then: Rows, at: number): number {
	const upper = Math.floor(at);
	const share = at - upper;
	let sum = 0;
	for (let part = 0; part < PARTS; part++) {
		const a = then[upper * PARTS + part]!;
		const there = share === 0 ? a : a + share * (then[(upper + 1) * PARTS + part]! - a);
		sum += Math.abs(now[y * PARTS + part]! - there);
	}
	return sum / PARTS;
}

/**
 * Share of some rows that agree with a movement, or 0 when fewer than `least` of them can be compared. A row agrees
 * together with the one above it: the edge between them is what tells where the page is.
 */
function agreement(then: Rows, now: Rows, moved: number, asked: readonly number[], least: number): number {
	const height = now.length / PARTS;
	let [same, all] = [0, 0];
	for (const y of asked) {
		const at = y - moved;
		if (at < 1 || at >= height - 1) continue;
		all++;
		if (sameRow(then, now, y, at) && sameRow(then, now, y - 1, at - 1)) same++;
	}
	return all < least ? 0 : same / all;
}

function sameRow(then: Rows, now: Rows, y: number, at: number): boolean {
	const upper = Math.floor(at);
	const difference = rowDifference(now, y, then, at);
	// Between two rows a step from one to the other is not known to more than a part of it.
	return difference <= SAME_ROW || difference <= SAME_ROW + SLOPE * rowDifference(then, upper + 1, then, upper);
}

/** How far the page has moved, or null when nothing certain can be said. */
function shiftBetween(then: Rows, now: Rows, height: number, expected: number, area: Rect): number | null {
	const telling: number[] = [];
	for (let y = 1; y < height; y++) if (rowDifference(now, y, now, y - 1) > TEXTURE) telling.push(y);
	const score = (moved: number) => agreement(then, now, moved, telling, LEAST_ROWS);
	// Most of the time the page has not moved since the last look; what is covered must say so itself, if it is in view.
	const [top, bottom] = [area.y + expected, area.y + expected + area.height];
	const covered = telling.filter((y) => y >= top && y <= bottom);
	const there = covered.length === 0 || agreement(then, now, expected, covered, 1) >= CERTAIN;
	if (there && score(expected) >= CERTAIN) return expected;

	const every = Math.ceil(telling.length / ASKED_FIRST);
	const asked = telling.filter((_, i) => i % every === 0);
	const furthest = height - LEAST_ROWS;
	const coarse = Array.from({ length: 2 * furthest + 1 }, (_, i) => {
		const moved = i - furthest;
		return { moved, score: agreement(then, now, moved, asked, LEAST_ROWS / 4) };
	}).sort((a, b) => b.score - a.score || Math.abs(a.moved - expected) - Math.abs(b.moved - expected));
	let best = { moved: expected, score: 0 };
	// A page that creeps is near where it was, between two rows, where no whole movement agrees.
	const near = [-1, 0, 1].map((by) => Math.round(expected) + by);
	for (const moved of [...near, ...coarse.slice(0, 6).map((each) => each.moved)])
		for (let quarter = -QUARTERS; quarter <= QUARTERS; quarter++) {
			const at = moved + quarter / QUARTERS;
			const found = score(at);
			if (found > best.score) best = { moved: at, score: found };
		}
	if (best.score < CERTAIN) return null;
	// Lines that look alike could be taken for each other.
	const rivals = coarse.filter(({ moved, score: other }) => Math.abs(moved - best.moved) > 2 && other > DOUBTFUL);
	return rivals.some(({ moved }) => score(moved) > DOUBTFUL) ? null : best.moved;
}
