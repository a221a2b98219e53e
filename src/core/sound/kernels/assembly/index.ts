// What is done to every sample of every channel, four samples at a time. Lengths are in samples, a multiple of 16;
// samples are 32-bit, what is told 64-bit numbers in a row. Memory is laid out by ../memory.ts.

const STEP: i32 = 16;
const STEP_BYTES: usize = 64;

/**
 * Looks at samples as they came in. One that is no number becomes 0. Told: the highest, how many are at full scale, the
 * sum of their squares, and the sums of each sixteen.
 */
export function examine(samples: usize, length: i32, fullScale: f32, told: usize): void {
	const full = f32x4.splat(fullScale);
	const zero = f32x4.splat(0);
	let highest = zero;
	let squares = zero;
	let clipped = 0;
	for (let i = 0, sums = told + 24; i < length; i += STEP, sums += 8) {
		let sum = zero;
		for (let part: usize = 0; part < STEP_BYTES; part += 16, samples += 16) {
			let four = v128.load(samples);
			const broken = f32x4.ne(f32x4.sub(four, four), zero);
			four = v128.andnot(four, broken);
			v128.store(samples, four);
			const heights = f32x4.abs(four);
			highest = f32x4.pmax(highest, heights);
			clipped += popcnt(i32x4.bitmask(f32x4.ge(heights, full)));
			squares = f32x4.add(squares, f32x4.mul(four, four));
			sum = f32x4.add(sum, four);
		}
		store<f64>(sums, <f64>total(sum));
	}
	store<f64>(told, <f64>top(highest));
	store<f64>(told, <f64>clipped, 8);
	store<f64>(told, <f64>total(squares), 16);
}

/** Raises each of `steps` 64-bit numbers to the highest of its sixteen samples. */
export function raiseToPeaks(peaks: usize, samples: usize, steps: i32): void {
	for (let i = 0; i < steps; i++, samples += STEP_BYTES, peaks += 8) {
		const a = f32x4.pmax(f32x4.abs(v128.load(samples)), f32x4.abs(v128.load(samples, 16)));
		const b = f32x4.pmax(f32x4.abs(v128.load(samples, 32)), f32x4.abs(v128.load(samples, 48)));
		store<f64>(peaks, max(load<f64>(peaks), <f64>top(f32x4.pmax(a, b))));
	}
}

/** Lays gains on samples, in a straight line over sixteen of them from each of steps + 1 64-bit numbers to the next. */
export function scale(samples: usize, gains: usize, steps: i32): void {
	for (let i = 0; i < steps; i++, samples += STEP_BYTES, gains += 8) {
		const from = load<f64>(gains);
		const slope = (load<f64>(gains, 8) - from) / <f64>STEP;
		if (from == 1 && slope == 0) continue;
		ramp(samples, <f32>from, <f32>slope, STEP);
	}
}

/**
 * Lays a gain on both sides of a channel, in a straight line that rises by `slope` with each sample, and adds them to the
 * mix. `right` may be `left`.
 */
export function add(left: usize, right: usize, mixLeft: usize, mixRight: usize, length: i32, gain: f32, slope: f32): void {
	ramp(left, gain, slope, length);
	if (right != left) ramp(right, gain, slope, length);
	sum(mixLeft, left, length);
	sum(mixRight, right, length);
}

/** into += from */
export function sum(into: usize, from: usize, length: i32): void {
	for (let i = 0; i < length; i += 4, into += 16, from += 16)
		v128.store(into, f32x4.add(v128.load(into), v128.load(from)));
}

/** Lays one gain on samples. Told: the sum of their squares before that. */
export function fade(samples: usize, length: i32, gain: f32, told: usize): void {
	const by = f32x4.splat(gain);
	let squares = f32x4.splat(0);
	for (let i = 0; i < length; i += 4, samples += 16) {
		const four = v128.load(samples);
		squares = f32x4.add(squares, f32x4.mul(four, four));
		v128.store(samples, f32x4.mul(four, by));
	}
	store<f64>(told, <f64>total(squares));
}

/**
 * Makes each side of a channel out of both, by four gains: left to left, right to left, left to right, right to right.
 * Told: the sum of the squares of both before that.
 */
export function cross(left: usize, right: usize, length: i32, ll: f32, rl: f32, lr: f32, rr: f32, told: usize): void {
	let squares = f32x4.splat(0);
	for (let i = 0; i < length; i += 4, left += 16, right += 16) {
		const l = v128.load(left);
		const r = v128.load(right);
		squares = f32x4.add(squares, f32x4.add(f32x4.mul(l, l), f32x4.mul(r, r)));
		v128.store(left, f32x4.add(f32x4.mul(l, f32x4.splat(ll)), f32x4.mul(r, f32x4.splat(rl))));
		v128.store(right, f32x4.add(f32x4.mul(l, f32x4.splat(lr)), f32x4.mul(r, f32x4.splat(rr))));
	}
	store<f64>(told, <f64>total(squares));
}

/** Told: the highest of each side, the sums of squares of each, and of the products of both. `right` may be `left`. */
export function levels(left: usize, right: usize, length: i32, told: usize): void {
	const zero = f32x4.splat(0);
	let highestLeft = zero;
	let highestRight = zero;
	let squaresLeft = zero;
	let squaresRight = zero;
	let products = zero;
	for (let i = 0; i < length; i += 4, left += 16, right += 16) {
		const l = v128.load(left);
		const r = v128.load(right);
		highestLeft = f32x4.pmax(highestLeft, f32x4.abs(l));
		highestRight = f32x4.pmax(highestRight, f32x4.abs(r));
		squaresLeft = f32x4.add(squaresLeft, f32x4.mul(l, l));
		squaresRight = f32x4.add(squaresRight, f32x4.mul(r, r));
		products = f32x4.add(products, f32x4.mul(l, r));
	}
	store<f64>(told, <f64>top(highestLeft));
	store<f64>(told, <f64>top(highestRight), 8);
	store<f64>(told, <f64>total(squaresLeft), 16);
	store<f64>(told, <f64>total(squaresRight), 24);
	store<f64>(told, <f64>total(products), 32);
}

// @ts-ignore: decorator
@inline
function ramp(samples: usize, gain: f32, slope: f32, length: i32): void {
	let gains = f32x4.add(f32x4.splat(gain), f32x4.mul(f32x4(1, 2, 3, 4), f32x4.splat(slope)));
	const rise = f32x4.splat(4 * slope);
	for (let i = 0; i < length; i += 4, samples += 16) {
		v128.store(samples, f32x4.mul(v128.load(samples), gains));
		gains = f32x4.add(gains, rise);
	}
}

// @ts-ignore: decorator
@inline
function total(four: v128): f32 {
	return (
		f32x4.extract_lane(four, 0) +
		f32x4.extract_lane(four, 1) +
		(f32x4.extract_lane(four, 2) + f32x4.extract_lane(four, 3))
	);
}

// @ts-ignore: decorator
@inline
function top(four: v128): f32 {
	return max(
		max(f32x4.extract_lane(four, 0), f32x4.extract_lane(four, 1)),
		max(f32x4.extract_lane(four, 2), f32x4.extract_lane(four, 3)),
	);
}
