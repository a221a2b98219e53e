/** The shape of a sound over time, for drawing: the highest sample of each part of it. */

export class Peaks {
	/** By part, 0 to 1 at full scale. */
	readonly heights: Float32Array<ArrayBuffer>;
	#partS: number;

	/**
	 * @param parts how many the whole is drawn in
	 * @param durationS of the whole, seconds
	 */
	constructor(parts: number, durationS: number) {
		this.heights = new Float32Array(parts);
		this.#partS = durationS / parts;
	}

	/**
	 * Takes some samples of one side; those before or behind the whole are left out.
	 * @param atS when the first of them is heard, seconds
	 */
	add(samples: Float32Array, atS: number, rate: number): void {
		const { heights } = this;
		for (let i = 0; i < samples.length; i++) {
			const part = Math.floor((atS + i / rate) / this.#partS);
			if (part < 0 || part >= heights.length) continue;
			const height = Math.min(1, Math.abs(samples[i]!));
			if (height > heights[part]!) heights[part] = height;
		}
	}
}

/**
 * An SVG path that fills the shape, mirrored at the middle of a box.
 * @param height of the box; its width is one unit for each part
 */
export function peaksPath(heights: ArrayLike<number>, height: number): string {
	const middle = height / 2;
	const y = (i: number, sign: number) => (middle - sign * Math.max(0.5, heights[i]! * middle)).toFixed(1);
	const places = Array.from({ length: heights.length }, (_, i) => i);
	if (places.length === 0) return '';
	const above = places.map((i) => `L${i} ${y(i, 1)}`);
	const below = places.toReversed().map((i) => `L${i} ${y(i, -1)}`);
	return `M0 ${middle}${above.join('')}${below.join('')}Z`;
}
