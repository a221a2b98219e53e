import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NEUTRAL } from '../show/sources/source.ts';
import { adjustTables, BLACK, hexOf, keyNumbers, rampTable, yuvOf } from './colour.ts';
import { chromaKeyReference, fromRgbaReference, removeSpillReference } from './kernels/reference.ts';

const byte = fc.integer({ min: 0, max: 255 });
const hex = (...rgb: number[]) => `#${rgb.map((value) => value.toString(16).padStart(2, '0')).join('')}`;

describe('a colour', () => {
	it('is the same whether it is written or drawn', () => {
		fc.assert(
			fc.property(byte, byte, byte, (r, g, b) => {
				const drawn = fromRgbaReference(Array.from({ length: 4 }, () => [r, g, b, 255]));
				expect(yuvOf(hex(r, g, b))).toEqual({ y: drawn.y[0], u: drawn.u, v: drawn.v });
			}),
		);
	});

	it('comes back from the planes within two steps', () => {
		fc.assert(
			fc.property(byte, byte, byte, (r, g, b) => {
				const back = hexOf(yuvOf(hex(r, g, b)));
				for (const [i, value] of [r, g, b].entries())
					expect(Math.abs(parseInt(back.slice(1 + 2 * i, 3 + 2 * i), 16) - value)).toBeLessThanOrEqual(2);
			}),
		);
	});

	it('of the ends of the range is limited-range black and white', () => {
		expect(yuvOf('#000000')).toEqual(BLACK);
		expect(yuvOf('#ffffff')).toEqual({ y: 235, u: 128, v: 128 });
	});
});

describe('a key by colour', () => {
	const key = (part: { tolerance?: number; softness?: number; spill?: number }) => {
		const numbers = keyNumbers({ by: 'colour', colour: '#00b140', tolerance: 0.2, softness: 0.1, spill: 1, ...part });
		if (numbers.by !== 'colour') throw new Error('not a key by colour');
		return numbers;
	};
	const alphaOf = (colour: string, numbers = key({})) => {
		const { u, v } = yuvOf(colour);
		return chromaKeyReference(u, v, numbers);
	};

	it('takes the cloth away, lit well or badly, and leaves people', () => {
		for (const cloth of ['#00b140', '#0cb54a', '#009636']) expect(alphaOf(cloth)).toBe(0);
		for (const skin of ['#e8b48c', '#8d5a3c', '#3a241a', '#12161c', '#ffffff', '#b3261e'])
			expect(alphaOf(skin)).toBe(255);
	});

	it('takes no less away with more tolerance, and no more with more softness', () => {
		fc.assert(
			fc.property(byte, byte, fc.double({ min: 0, max: 0.9, noNaN: true }), (u, v, tolerance) => {
				const alpha = (part: Parameters<typeof key>[0]) => chromaKeyReference(u, v, key(part));
				expect(alpha({ tolerance: tolerance + 0.1 })).toBeLessThanOrEqual(alpha({ tolerance }));
				expect(alpha({ tolerance, softness: 0.9 })).toBeLessThanOrEqual(alpha({ tolerance, softness: 0.1 }));
			}),
		);
	});

	it('takes the cloth’s light off what it falls on, and no other light', () => {
		const { spill } = key({});
		const green = yuvOf('#00b140');
		const [u, v] = removeSpillReference(green.u, green.v, spill.x, spill.y, spill.amount);
		expect(Math.hypot(u - 128, v - 128)).toBeLessThan(6);
		const red = yuvOf('#b3261e');
		expect(removeSpillReference(red.u, red.v, spill.x, spill.y, spill.amount)).toEqual([red.u, red.v]);
	});

	it('of grey has no direction and removes nothing', () => {
		const numbers = keyNumbers({ by: 'colour', colour: '#808080', tolerance: 0.1, softness: 0.1, spill: 1 });
		expect(numbers).toMatchObject({ spill: { x: 0, y: 0 } });
	});
});

describe('a key by light', () => {
	it('rises from low to high, and falls when they are the other way round', () => {
		const rising = rampTable(40, 80);
		expect([rising[0], rising[40], rising[60], rising[80], rising[255]]).toEqual([0, 0, 128, 255, 255]);
		expect([...rampTable(80, 40)]).toEqual([...rising].map((value) => 255 - value));
	});

	it('with both at one place is a step', () => {
		expect(new Set(rampTable(100, 100))).toEqual(new Set([0, 255]));
	});
});

describe('corrections', () => {
	const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

	it('keep the range, and never turn dark and light round', () => {
		fc.assert(
			fc.property(
				number(-0.5, 0.5),
				number(0, 2),
				number(0, 2),
				number(0.3, 3),
				(brightness, contrast, saturation, gamma) => {
					const tables = adjustTables({ ...NEUTRAL, brightness, contrast, saturation, gamma });
					if (!tables) return;
					const luma = [...tables.y];
					expect(Math.min(...luma)).toBeGreaterThanOrEqual(16);
					expect(Math.max(...luma)).toBeLessThanOrEqual(235);
					expect(luma).toEqual(luma.toSorted((a, b) => a - b));
					for (const chroma of [tables.u, tables.v]) {
						expect(chroma[128]).toBe(128);
						expect(Math.min(...chroma)).toBeGreaterThanOrEqual(16);
						expect(Math.max(...chroma)).toBeLessThanOrEqual(240);
					}
				},
			),
		);
	});

	it('make what was picked as grey grey', () => {
		const tables = adjustTables({ ...NEUTRAL, grey: { u: -9, v: 14 } })!;
		expect([tables.u[128 - 9], tables.v[128 + 14]]).toEqual([128, 128]);
		expect(tables.y[100]).toBe(100);
	});

	it('without colour leave only grey', () => {
		expect(new Set(adjustTables({ ...NEUTRAL, saturation: 0 })!.u)).toEqual(new Set([128]));
	});

	it('lighten the middle without touching the ends', () => {
		const { y } = adjustTables({ ...NEUTRAL, gamma: 2 })!;
		expect([y[16], y[235]]).toEqual([16, 235]);
		expect(y[100]).toBeGreaterThan(130);
	});
});
