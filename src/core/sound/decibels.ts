/**
 * Decibels and amplitudes, worked out so often that the engine's own powers and logarithms would be the most of a
 * strip. Both are right to a millionth of a decibel.
 */
const DB_PER_DOUBLING = 20 * Math.log10(2);
const FLOOR_DB = -120;
const LEAST_DOUBLINGS = -64;
const MOST_DOUBLINGS = 31;
/** 2^(n + ½), n from LEAST_DOUBLINGS on. */
const POWERS = Float64Array.from(
	{ length: MOST_DOUBLINGS - LEAST_DOUBLINGS + 1 },
	(_, n) => 2 ** (n + LEAST_DOUBLINGS + 0.5),
);
const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/** Linear gain of −385 to 186 dB; what lies beyond counts as the nearer end. */
export function gainOf(db: number): number {
	const doublings = Math.min(MOST_DOUBLINGS, Math.max(LEAST_DOUBLINGS, db / DB_PER_DOUBLING));
	const whole = Math.floor(doublings);
	// e^y by its series, |y| up to 0.35.
	const y = (doublings - whole - 0.5) * Math.LN2;
	const series = 1 + y * (1 + (y / 2) * (1 + (y / 3) * (1 + (y / 4) * (1 + (y / 5) * (1 + (y / 6) * (1 + y / 7))))));
	return POWERS[whole - LEAST_DOUBLINGS]! * series;
}

/** All of them in place; a number that goes into a function or comes out of one may take memory, an array does not. */
export function toDb(amplitudes: Float64Array): void {
	for (let i = 0; i < amplitudes.length; i++) amplitudes[i] = dbOf(amplitudes[i]!);
}

/** All of them in place; no change is a gain of just 1. */
export function toGains(db: Float64Array): void {
	for (let i = 0; i < db.length; i++) db[i] = db[i] === 0 ? 1 : gainOf(db[i]!);
}

/** Level of an amplitude, −120 dB at least. */
export function dbOf(amplitude: number): number {
	if (!(amplitude > 1e-6)) return FLOOR_DB;
	float[0] = amplitude;
	const exponent = (bits[0]! >>> 23) - 127;
	bits[0] = (bits[0]! & 0x7fffff) | 0x3f800000;
	const mantissa = float[0]!;
	// ln m = ln √2 + 2 artanh t, |t| up to 0.18.
	const t = (mantissa - Math.SQRT2) / (mantissa + Math.SQRT2);
	const tt = t * t;
	const artanh = t * (1 + tt * (1 / 3 + tt * (1 / 5 + tt * (1 / 7 + tt / 9))));
	return DB_PER_DOUBLING * (exponent + 0.5 + 2 * Math.LOG2E * artanh);
}
