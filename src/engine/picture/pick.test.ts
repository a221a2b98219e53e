import { describe, expect, it } from 'vitest';
import { colourAt } from './pick.ts';

/** A frame whose left half has one colour and whose right half another. */
function frame(format: 'I420' | 'NV12' | 'RGBX', left: number[], right: number[]) {
	const state = { closed: 0 };
	const visibleRect = { x: 0, y: 0, width: 64, height: 32 };
	const bytes = ({ rect }: VideoFrameCopyToOptions) => {
		const colour = (rect!.x ?? 0) < 32 ? left : right;
		const pixels = (rect!.width ?? 0) * (rect!.height ?? 0);
		const repeat = (times: number, ...values: number[]) => Array.from({ length: times }, () => values).flat();
		if (format === 'RGBX') return repeat(pixels, ...colour, 255);
		const [y, u, v] = colour as [number, number, number];
		const chroma = format === 'NV12' ? repeat(pixels / 4, u, v) : [...repeat(pixels / 4, u), ...repeat(pixels / 4, v)];
		return [...repeat(pixels, y), ...chroma];
	};
	const made = {
		format,
		visibleRect,
		clone: () => made,
		allocationSize: (options: VideoFrameCopyToOptions) => bytes(options).length,
		copyTo: async (to: Uint8Array, options: VideoFrameCopyToOptions) => to.set(bytes(options)),
		close: () => state.closed++,
	};
	return { frame: made as unknown as VideoFrame, state };
}

describe('a colour picked from a frame', () => {
	it.each(['I420', 'NV12'] as const)(
		'is read from %s, to the very edge, and the copy is given back',
		async (format) => {
			const { frame: of, state } = frame(format, [40, 90, 200], [180, 60, 130]);
			expect(await colourAt(of, 0, 0)).toEqual({ y: 40, u: 90, v: 200 });
			expect(await colourAt(of, 1, 1)).toEqual({ y: 180, u: 60, v: 130 });
			expect(state.closed).toBe(2);
		},
	);

	it('is turned from RGB as everything else is', async () => {
		const { frame: of } = frame('RGBX', [255, 255, 255], [128, 128, 128]);
		expect(await colourAt(of, 0.1, 0.5)).toEqual({ y: 235, u: 128, v: 128 });
		expect(await colourAt(of, 0.9, 0.5)).toMatchObject({ u: 128, v: 128 });
	});

	it('gives the copy back when it cannot be read', async () => {
		const { frame: of, state } = frame('I420', [0, 0, 0], [0, 0, 0]);
		of.copyTo = () => Promise.reject(new Error('not readable'));
		await expect(colourAt(of, 0.5, 0.5)).rejects.toThrow('not readable');
		expect(state.closed).toBe(1);
	});
});
