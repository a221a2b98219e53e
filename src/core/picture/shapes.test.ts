import { describe, expect, it } from 'vitest';
import { DIRECTIONS } from '../show/scenes/scene.ts';
import { FrameMemory } from './planes.ts';
import { cornerMask, wipeField, wipeTable } from './shapes.ts';

describe('rounded corners', () => {
	it('are the same at all four corners', () => {
		const [width, height] = [40, 24];
		const mask = cornerMask(width, height, 9);
		for (let y = 0; y < height; y++)
			for (let x = 0; x < width; x++) {
				const value = mask[y * width + x];
				expect(mask[y * width + width - 1 - x]).toBe(value);
				expect(mask[(height - 1 - y) * width + x]).toBe(value);
			}
	});

	it('of half the shorter side make a circle of a square', () => {
		const mask = cornerMask(64, 64, 32);
		const area = mask.reduce((sum, value) => sum + value, 0) / 255;
		expect(Math.abs(area - Math.PI * 32 * 32)).toBeLessThan(20);
		expect([mask[0], mask[32], mask[32 * 64]]).toEqual([0, 255, 255]);
	});

	it('are never larger than the shape', () => {
		expect(cornerMask(10, 4, 50)).toEqual(cornerMask(10, 4, 2));
	});

	it('of no radius are none', () => {
		expect(new Set(cornerMask(8, 6, 0))).toEqual(new Set([255]));
	});
});

describe('wipes', () => {
	const [width, height] = [64, 36];
	const share = (field: Uint8Array, progress: number) => {
		const table = wipeTable(progress);
		return field.reduce((sum, value) => sum + table[value]!, 0) / (255 * field.length);
	};

	it.each(DIRECTIONS)('%s uncovers nothing at first, all at last, and more at each moment', (direction) => {
		const field = wipeField(direction, width, height);
		expect(share(field, 0)).toBe(0);
		expect(share(field, 1)).toBe(1);
		const shares = Array.from({ length: 21 }, (_, i) => share(field, i / 20));
		expect(shares).toEqual(shares.toSorted((a, b) => a - b));
		expect(new Set(shares).size).toBeGreaterThan(18);
	});

	it('begin where their name says', () => {
		const first = (direction: (typeof DIRECTIONS)[number]) => {
			const field = wipeField(direction, width, height);
			const at = field.indexOf(Math.min(...field));
			return [at % width < 8 ? 'left' : at % width > 55 ? 'right' : 'middle', Math.floor(at / width)] as const;
		};
		expect(first('right')[0]).toBe('left');
		expect(first('left')[0]).toBe('right');
		expect(first('down')[1]).toBe(0);
		expect(first('downRight')).toEqual(['left', 0]);
		expect(first('downLeft')).toEqual(['right', 0]);
		expect(first('circle')[0]).toBe('middle');
	});
});

describe('kernel memory', () => {
	const memory = () => new FrameMemory(new WebAssembly.Memory({ initial: 2, maximum: 256 }));

	it('gives what came back to the next one that asks for as much', () => {
		const frames = memory();
		const first = frames.allocatePlanes(64, 36, true);
		frames.releasePlanes(first);
		const again = frames.allocatePlanes(64, 36, true);
		expect([again.y, again.alpha].sort()).toEqual([first.y, first.alpha].sort());
	});

	it('hands out no place twice', () => {
		const frames = memory();
		const taken = Array.from({ length: 40 }, (_, i) => ({ at: frames.allocate(100 + i), length: 100 + i }));
		for (const { at, length } of taken.filter((_, i) => i % 3 === 0)) frames.release(at, length);
		const kept = taken.filter((_, i) => i % 3 !== 0);
		for (let i = 0; i < 60; i++) kept.push({ at: frames.allocate(90 + i), length: 90 + i });
		kept.sort((a, b) => a.at - b.at);
		for (const [i, { at }] of kept.entries())
			if (i > 0) expect(at).toBeGreaterThanOrEqual(kept[i - 1]!.at + kept[i - 1]!.length);
		expect(kept.every(({ at, length }) => at % 16 === 0 && length > 0)).toBe(true);
	});

	it('lays planes one after another, with chroma for odd sizes', () => {
		const { y, u, v, strideC, bytes, alpha } = memory().allocatePlanes(21, 11);
		expect([u - y, v - u, strideC, bytes, alpha]).toEqual([231, 66, 11, 363, null]);
	});
});
