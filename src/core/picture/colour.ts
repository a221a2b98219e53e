/** Colours as the planes have them, and the numbers of keys and corrections. */
import type { Key } from '../show/scenes/scene.ts';
import type { Adjust } from '../show/sources/source.ts';

/** A colour in the planes' own terms: limited-range luma and chroma of ITU-R BT.709, 0 to 255 each. */
export interface Yuv {
	y: number;
	u: number;
	v: number;
}

export const BLACK: Yuv = { y: 16, u: 128, v: 128 };
export const WHITE: Yuv = { y: 235, u: 128, v: 128 };

/** The planes' colour for `#rrggbb`; the same numbers as the kernel `fromRgba`. */
export function yuvOf(hex: string): Yuv {
	const [r, g, b] = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number];
	return {
		y: (11966 * r + 40254 * g + 4064 * b + (16 << 16) + 32768) >> 16,
		u: (-6596 * r - 22188 * g + 28784 * b + (128 << 16) + 32768) >> 16,
		v: (28784 * r - 26145 * g - 2639 * b + (128 << 16) + 32768) >> 16,
	};
}

/** A colour between two others, all `#rrggbb`. @param part of the second, 0 to 1 */
export function mixed(one: string, other: string, part: number): string {
	const at = (hex: string, from: number) => parseInt(hex.slice(from, from + 2), 16);
	const byte = (from: number) => Math.round(at(one, from) + part * (at(other, from) - at(one, from)));
	return `#${[1, 3, 5].map((from) => byte(from).toString(16).padStart(2, '0')).join('')}`;
}

/** `#rrggbb` for a colour of the planes; see ITU-R BT.709, limited range. */
export function hexOf({ y, u, v }: Yuv): string {
	const luma = (255 / 219) * (y - 16);
	const [b, r] = [u - 128, v - 128];
	const rgb = [luma + 1.79274 * r, luma - 0.21325 * b - 0.53291 * r, luma + 2.1124 * b];
	const byte = (value: number) => Math.min(255, Math.max(0, Math.round(value)));
	return `#${rgb.map((value) => byte(value).toString(16).padStart(2, '0')).join('')}`;
}

/** A key as the kernels take it. */
export type KeyNumbers =
	| {
			by: 'colour';
			u: number;
			v: number;
			tolerance: number;
			softness: number;
			slope: number;
			/** Direction of the colour from grey in 128ths, and how much of it is removed, of 128. */
			spill: { x: number; y: number; amount: number };
	  }
	| { by: 'light'; table: Uint8Array };

export function keyNumbers(key: Key): KeyNumbers {
	if (key.by === 'light') return { by: 'light', table: rampTable(16 + 219 * key.low, 16 + 219 * key.high) };
	const { u, v } = yuvOf(key.colour);
	const softness = Math.max(1, Math.round(key.softness * 96));
	const [du, dv] = [u - 128, v - 128];
	const length = Math.hypot(du, dv) || 1;
	return {
		by: 'colour',
		u,
		v,
		tolerance: Math.round(key.tolerance * 96),
		softness,
		slope: Math.ceil(4080 / softness),
		spill: {
			x: Math.trunc((127 * du) / length),
			y: Math.trunc((127 * dv) / length),
			amount: Math.round(128 * key.spill),
		},
	};
}

/** 0 up to `low`, 255 from `high` on, evenly between; falling when low is above high. */
export function rampTable(low: number, high: number): Uint8Array {
	if (low > high) return rampTable(high, low).map((value) => 255 - value);
	const span = Math.max(high - low, 1e-6);
	return Uint8Array.from({ length: 256 }, (_, i) => Math.round(255 * Math.min(1, Math.max(0, (i - low) / span))));
}

/** What corrections make of each luma and chroma, or null when they change nothing. */
export interface AdjustTables {
	y: Uint8Array;
	u: Uint8Array;
	v: Uint8Array;
}

/**
 * Luma: gamma, then contrast around the middle, then brightness, within 16 to 235. Chroma: grey moved to the middle,
 * then saturation around it.
 */
export function adjustTables({ brightness, contrast, saturation, gamma, grey }: Adjust): AdjustTables | null {
	const neutral = brightness === 0 && contrast === 1 && saturation === 1 && gamma === 1 && !grey.u && !grey.v;
	if (neutral) return null;
	const table = (map: (value: number) => number) => Uint8Array.from({ length: 256 }, (_, i) => map(i));
	const clamp = (value: number, least: number, most: number) => Math.round(Math.min(most, Math.max(least, value)));
	const chroma = (offset: number) => table((i) => clamp(128 + saturation * (i - 128 - offset), 16, 240));
	return {
		y: table((i) => {
			const light = Math.min(1, Math.max(0, (i - 16) / 219)) ** (1 / gamma);
			return clamp(16 + 219 * ((light - 0.5) * contrast + 0.5 + brightness), 16, 235);
		}),
		u: chroma(grey.u),
		v: chroma(grey.v),
	};
}
