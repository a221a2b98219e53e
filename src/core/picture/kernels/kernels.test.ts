import { readFileSync } from 'node:fs';
import v8 from 'node:v8';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { columnBytes, FrameMemory, keyedWorkBytes, type KernelExports } from '../planes.ts';
import {
	blendReference,
	cellMeansReference,
	chromaKeyReference,
	fromRgbaReference,
	halveReference,
	keyedReference,
	mixReference,
	multiplyReference,
	removeSpillReference,
	rgbReference,
	scaleReference,
	type Region,
} from './reference.ts';

let kernels: KernelExports;
let memory: FrameMemory;

// This Node.js has relaxed SIMD behind a flag; browsers that make the program have it.
v8.setFlagsFromString('--experimental-wasm-relaxed-simd');
/** The kernels as they are built for browsers with relaxed SIMD, and for others. */
describe.each(['kernels.wasm', 'kernels-relaxed.wasm'])('%s', (build) => {
	beforeAll(async () => {
		const shared = new WebAssembly.Memory({ initial: 2, maximum: 16384 });
		const bytes = readFileSync(new URL(`./build/${build}`, import.meta.url));
		const { instance } = await WebAssembly.instantiate(bytes, { env: { memory: shared } });
		kernels = instance.exports as unknown as KernelExports;
		memory = new FrameMemory(shared);
	});

	const GUARD = 0xa5;
	/** Puts bytes into kernel memory. */
	function place(bytes: Uint8Array): number {
		const at = memory.allocate(bytes.length);
		memory.bytes.set(bytes, at);
		return at;
	}
	/** Room for a result with a guard behind each row, so that a store past the row's end is seen. */
	function room(length: number): number {
		const at = memory.allocate(length);
		memory.bytes.fill(GUARD, at, at + length + 32);
		return at;
	}
	function rows(at: number, stride: number, width: number, height: number): Uint8Array {
		const out = new Uint8Array(width * height);
		for (let y = 0; y < height; y++)
			out.set(memory.bytes.subarray(at + y * stride, at + y * stride + width), y * width);
		return out;
	}
	function noise(length: number, seed: number): Uint8Array {
		let state = seed | 1;
		return Uint8Array.from({ length }, () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 24);
	}
	const size = fc.integer({ min: 1, max: 70 });
	const seed = fc.integer({ min: 1, max: 1e9 });

	describe('mix', () => {
		it('is exact for every weight and for lengths that fill no vector', () => {
			fc.assert(
				fc.property(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 255 }), seed, (length, weight, s) => {
					const [a, b] = [noise(length, s), noise(length, s + 1)];
					const out = room(length);
					kernels.mix(out, place(a), place(b), length, weight);
					expect(memory.bytes.slice(out, out + length)).toEqual(mixReference(a, b, weight));
				}),
			);
		});

		it('keeps the ends of the range', () => {
			for (const [a, b] of [
				[0, 0],
				[255, 255],
				[0, 255],
				[255, 0],
			] as const)
				for (const weight of [1, 127, 128, 255]) {
					const out = room(16);
					kernels.mix(out, place(new Uint8Array(16).fill(a)), place(new Uint8Array(16).fill(b)), 16, weight);
					expect(memory.bytes[out]).toBe((a * (256 - weight) + b * weight + 128) >> 8);
				}
		});
	});

	/** Scales with the kernel, by default the whole plane; the result's rows are `stride` apart. */
	function scaled(
		from: Uint8Array,
		[planeWidth, planeHeight]: [number, number],
		[width, height]: [number, number],
		region: Region = { x: 0, y: 0, width: planeWidth << 7, height: planeHeight << 7 },
		{ mirrored = false, stride = width } = {},
	): number {
		const out = room(stride * height);
		const { x, y, width: w, height: h } = region;
		const columns = memory.allocate(columnBytes(width));
		const way = kernels.layOut(columns, width, planeWidth, x, w, mirrored);
		const work = memory.allocate(2 * (width + 32));
		kernels.scale(out, stride, width, height, place(from), planeWidth, planeHeight, x, y, h, columns, way, work);
		return out;
	}

	describe('scale', () => {
		it('is exact for odd sizes, up and down, and writes nothing beside its rectangle', () => {
			fc.assert(
				fc.property(size, size, size, size, seed, (fromWidth, fromHeight, width, height, s) => {
					const from = noise(fromWidth * fromHeight, s);
					const stride = width + 5;
					const out = scaled(from, [fromWidth, fromHeight], [width, height], undefined, { stride });
					expect(rows(out, stride, width, height)).toEqual(scaleReference(from, fromWidth, fromHeight, width, height));
					expect(rows(out + width, stride, 5, height)).toEqual(new Uint8Array(5 * height).fill(GUARD));
				}),
				{ numRuns: 300 },
			);
		});

		it('is exact for regions between pixels, and mirrored', () => {
			const part = fc.double({ min: 0, max: 1, noNaN: true });
			fc.assert(
				fc.property(
					fc.tuple(size, size),
					fc.tuple(size, size),
					fc.tuple(part, part, part, part),
					fc.boolean(),
					seed,
					([planeWidth, planeHeight], [width, height], [a, b, c, d], mirrored, s) => {
						const from = noise(planeWidth * planeHeight, s);
						const x = Math.floor(a * (planeWidth - 1) * 128);
						const y = Math.floor(b * (planeHeight - 1) * 128);
						const region = {
							x,
							y,
							width: 128 + Math.floor(c * (planeWidth * 128 - x - 128)),
							height: 128 + Math.floor(d * (planeHeight * 128 - y - 128)),
						};
						const out = scaled(from, [planeWidth, planeHeight], [width, height], region, { mirrored });
						const expected = scaleReference(from, planeWidth, planeHeight, width, height, region, mirrored);
						expect(rows(out, width, width, height)).toEqual(expected);
					},
				),
				{ numRuns: 300 },
			);
		});

		it('cuts out a region pixel for pixel when nothing is to be scaled', () => {
			const from = noise(40 * 30, 3);
			const out = scaled(from, [40, 30], [16, 8], { x: 10 << 7, y: 5 << 7, width: 16 << 7, height: 8 << 7 });
			const expected = Array.from({ length: 8 }, (_, y) => [...from.subarray((5 + y) * 40 + 10, (5 + y) * 40 + 26)]);
			expect([...rows(out, 16, 16, 8)]).toEqual(expected.flat());
		});

		it.each([
			[640, 360, 1280, 720],
			[1280, 720, 1920, 1080],
			[1920, 1080, 1280, 720],
			[853, 480, 1280, 720],
		])('is exact from %i × %i to %i × %i', (fromWidth, fromHeight, width, height) => {
			const from = noise(fromWidth * fromHeight, 7);
			const out = scaled(from, [fromWidth, fromHeight], [width, height]);
			const expected = scaleReference(from, fromWidth, fromHeight, width, height);
			expect(Buffer.compare(memory.bytes.slice(out, out + width * height), expected)).toBe(0);
		});
	});

	describe('blend', () => {
		it('is exact for every opacity, and touches nothing where alpha is 0', () => {
			const opacity = fc.oneof(fc.integer({ min: 0, max: 256 }), fc.constant(256));
			fc.assert(
				fc.property(size, size, opacity, seed, (width, height, amount, s) => {
					const [under, over] = [noise(width * height, s), noise(width * height, s + 1)];
					const alpha = noise(width * height, s + 2).map((value) => (value < 60 ? 0 : value > 200 ? 255 : value));
					const stride = width + 3;
					const out = room(stride * height);
					kernels.copy(out, stride, place(under), width, width, height);
					kernels.blend(out, stride, place(over), width, place(alpha), width, width, height, amount);
					const expected = under.map((value, i) => blendReference(value, over[i]!, alpha[i]!, amount));
					expect(rows(out, stride, width, height)).toEqual(expected);
					expect(rows(out + width, stride, 3, height)).toEqual(new Uint8Array(3 * height).fill(GUARD));
				}),
			);
			expect([blendReference(10, 200, 255, 256), blendReference(10, 200, 0, 256)]).toEqual([200, 10]);
		});

		it('joins two masks exactly', () => {
			const all = Uint8Array.from({ length: 65_536 }, (_, i) => i >> 8);
			const other = Uint8Array.from({ length: 65_536 }, (_, i) => i & 255);
			const out = room(65_536);
			kernels.multiply(out, 256, place(all), 256, place(other), 256, 256, 256);
			expect(memory.bytes.slice(out, out + 65_536)).toEqual(all.map((value, i) => multiplyReference(value, other[i]!)));
			expect([multiplyReference(255, 77), multiplyReference(0, 77)]).toEqual([77, 0]);
		});
	});

	describe('keys', () => {
		const byte = fc.integer({ min: 0, max: 255 });

		it('by colour, with spill, mask and opacity, are exact, and write nothing beside the layer', () => {
			const part = fc.record({
				...{ u: byte, v: byte, tolerance: byte, softness: fc.integer({ min: 1, max: 255 }) },
				angle: fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }),
				amount: fc.oneof(fc.constant(0), fc.integer({ min: 0, max: 128 })),
				opacity: fc.oneof(fc.constant(256), fc.integer({ min: 0, max: 256 })),
				...{ widthC: fc.integer({ min: 1, max: 40 }), heightC: fc.integer({ min: 1, max: 9 }) },
				...{ isMasked: fc.boolean(), s: seed },
			});
			fc.assert(
				fc.property(part, ({ u, v, tolerance, softness, angle, amount, opacity, widthC, heightC, isMasked, s }) => {
					const key = { u, v, tolerance, softness, slope: Math.ceil(4080 / softness) };
					const [x, y] = [Math.trunc(127 * Math.cos(angle)), Math.trunc(127 * Math.sin(angle))];
					const [width, height] = [2 * widthC, 2 * heightC];
					// Colours near the key's and far from it, so that there are holes, edges and what is whole.
					const chroma = (length: number, of: number, at: number) =>
						noise(length, at).map((value) => (value % 3 === 0 ? of : value));
					const planes = (at: number) =>
						[
							noise(width * height, at),
							chroma(widthC * heightC, u, at + 1),
							chroma(widthC * heightC, v, at + 2),
						] as const;
					const [under, over] = [planes(s), planes(s + 5)];
					const mask = isMasked ? noise(width * height, s + 9).map((value) => (value > 150 ? 255 : value)) : null;
					const expected = keyedReference(under, over, { width, height, key, x, y, amount, mask, opacity });
					const stride = width + 6;
					const out = [stride * height, (stride / 2) * heightC, (stride / 2) * heightC].map(room);
					for (const [i, at] of out.entries()) {
						const [w, h] = i === 0 ? [width, height] : [widthC, heightC];
						kernels.copy(at, i === 0 ? stride : stride / 2, place(under[i]!), w, w, h);
					}
					const [outY, outU, outV] = out as [number, number, number];
					const [fromY, fromU, fromV] = over.map(place) as [number, number, number];
					kernels.keyed(
						...([outY, outU, outV, stride, stride / 2, fromY, fromU, fromV, width, widthC, width, height] as const),
						...([u, v, tolerance, softness, key.slope, x, y, amount, mask ? place(mask) : 0, width, opacity] as const),
						memory.allocate(keyedWorkBytes(width)),
					);
					expect(rows(outY, stride, width, height)).toEqual(expected[0]);
					expect(rows(outU, stride / 2, widthC, heightC)).toEqual(expected[1]);
					expect(rows(outV, stride / 2, widthC, heightC)).toEqual(expected[2]);
					expect(rows(outY + width, stride, 6, height)).toEqual(new Uint8Array(6 * height).fill(GUARD));
					expect(rows(outU + widthC, stride / 2, 3, heightC)).toEqual(new Uint8Array(3 * heightC).fill(GUARD));
				}),
				{ numRuns: 300 },
			);
		});

		it('go from nothing at the key colour to all of it far away, and leave other colours alone', () => {
			const far = { u: 60, v: 60, tolerance: 0, softness: 20, slope: 204 };
			expect([chromaKeyReference(60, 60, far), chromaKeyReference(255, 60, far)]).toEqual([0, 255]);
			// Green lies where both are small; a red is on the other side.
			expect(removeSpillReference(100, 200, -90, -90, 128)).toEqual([100, 200]);
			const [u, v] = removeSpillReference(60, 60, -90, -90, 128);
			expect(Math.hypot(u - 128, v - 128)).toBeLessThan(5);
		});

		it('and adjustments look every byte up', () => {
			const table = noise(256, 5);
			const from = noise(64 * 9, 6);
			const out = room(70 * 9);
			kernels.lookUp(out, 70, place(from), 64, 64, 9, place(table));
			expect(rows(out, 70, 64, 9)).toEqual(from.map((value) => table[value]!));
			expect(rows(out + 64, 70, 6, 9)).toEqual(new Uint8Array(54).fill(GUARD));
			const all = place(Uint8Array.from({ length: 256 }, (_, i) => i));
			kernels.lookUp(all, 256, all, 256, 256, 1, place(table));
			expect(memory.bytes.slice(all, all + 256)).toEqual(table);
		});
	});

	describe('cell means', () => {
		it('are exact, with larger cells at the far edges', () => {
			fc.assert(
				fc.property(size, size, fc.integer({ min: 1, max: 40 }), seed, (width, height, cell, s) => {
					const stride = width + 2;
					const from = noise(stride * height, s);
					const expected = cellMeansReference(from, stride, width, height, cell);
					const out = room(expected.length);
					kernels.cellMeans(out, place(from), stride, width, height, cell);
					expect([...memory.bytes.slice(out, out + expected.length)]).toEqual(expected);
					expect(memory.bytes[out + expected.length]).toBe(GUARD);
				}),
			);
		});
	});

	describe('fromRgba', () => {
		it('is exact, and colours a block by what is not transparent', () => {
			const even = fc.integer({ min: 1, max: 12 }).map((half) => 2 * half);
			fc.assert(
				fc.property(even, even, seed, (width, height, s) => {
					const rgba = noise(4 * width * height, s).map((value, i) => (i % 4 === 3 && value < 90 ? 0 : value));
					const [y, alpha] = [room(width * height), room(width * height)];
					const [u, v] = [room((width * height) / 4), room((width * height) / 4)];
					kernels.fromRgba(y, u, v, alpha, place(rgba), width, height);
					for (let block = 0; block < (width * height) / 4; block++) {
						const left = 2 * (block % (width / 2));
						const top = 2 * Math.floor(block / (width / 2));
						const at = [0, 1, width, width + 1].map((offset) => top * width + left + offset);
						const pixels = at.map((i) => [...rgba.subarray(4 * i, 4 * i + 4)] as [number, number, number, number]);
						const { bytes } = memory;
						expect({
							y: at.map((i) => bytes[y + i]!),
							alpha: at.map((i) => bytes[alpha + i]!),
							u: bytes[u + block],
							v: bytes[v + block],
						}).toEqual(fromRgbaReference(pixels));
					}
				}),
			);
		});

		it('comes back from RGBA within two steps', () => {
			for (const [r, g, b] of [
				[255, 255, 255],
				[0, 0, 0],
				[240, 168, 48],
				[18, 22, 28],
				[0, 177, 64],
			] as const) {
				const { y, u, v } = fromRgbaReference(
					Array.from({ length: 4 }, () => [r, g, b, 255] as const).map((p) => [...p]),
				);
				const back = rgbReference(y[0]!, u, v);
				for (const [i, value] of [r, g, b].entries()) expect(Math.abs(back[i]! - value)).toBeLessThanOrEqual(2);
			}
		});
	});

	describe('fill and copy', () => {
		it('touch their rectangle and nothing else', () => {
			fc.assert(
				fc.property(size, size, fc.integer({ min: 0, max: 255 }), seed, (width, height, value, s) => {
					const stride = width + 3;
					const out = room(stride * height);
					kernels.fill(out, stride, width, height, value);
					expect(rows(out, stride, width, height)).toEqual(new Uint8Array(width * height).fill(value));
					expect(rows(out + width, stride, 3, height)).toEqual(new Uint8Array(3 * height).fill(GUARD));
					const from = noise(width * height, s);
					kernels.copy(out, stride, place(from), width, width, height);
					expect(rows(out, stride, width, height)).toEqual(from);
					expect(rows(out + width, stride, 3, height)).toEqual(new Uint8Array(3 * height).fill(GUARD));
				}),
			);
		});
	});

	describe('halve', () => {
		it('is exact and stays within its rows', () => {
			fc.assert(
				fc.property(size, size, seed, (width, height, s) => {
					const fromStride = 2 * width + (s % 2);
					const from = noise(fromStride * 2 * height, s);
					const out = room(width * height);
					kernels.halve(out, width, place(from), fromStride, width, height);
					expect(rows(out, width, width, height)).toEqual(halveReference(from, fromStride, width, height));
					expect(memory.bytes[out + width * height]).toBe(GUARD);
				}),
			);
		});
	});

	describe('split', () => {
		it('takes NV12 chroma apart', () => {
			fc.assert(
				fc.property(fc.integer({ min: 1, max: 200 }), seed, (length, s) => {
					const pairs = noise(2 * length, s);
					const [u, v] = [room(length), room(length)];
					kernels.split(u, v, place(pairs), length);
					expect(memory.bytes.slice(u, u + length)).toEqual(pairs.filter((_, i) => i % 2 === 0));
					expect(memory.bytes.slice(v, v + length)).toEqual(pairs.filter((_, i) => i % 2 === 1));
					expect(memory.bytes[v + length]).toBe(GUARD);
				}),
			);
		});
	});

	describe('toRgba', () => {
		it('is exact for even widths, whether or not they are a multiple of eight', () => {
			const even = fc.integer({ min: 4, max: 40 }).map((half) => 2 * half);
			fc.assert(
				fc.property(even, size, seed, (width, height, s) => {
					const [widthC, heightC] = [width / 2, (height + 1) >> 1];
					const y = noise(width * height, s);
					const u = noise(widthC * heightC, s + 1);
					const v = noise(widthC * heightC, s + 2);
					const out = room(width * height * 4);
					kernels.toRgba(out, place(y), place(u), place(v), width, widthC, width, height);
					const expected = Buffer.alloc(width * height * 4, 255);
					for (let i = 0; i < width * height; i++) {
						const at = (Math.floor(i / width) >> 1) * widthC + ((i % width) >> 1);
						expected.set(rgbReference(y[i]!, u[at]!, v[at]!), 4 * i);
					}
					expect(Buffer.compare(memory.bytes.slice(out, out + expected.length), expected)).toBe(0);
					expect(memory.bytes[out + width * height * 4]).toBe(GUARD);
				}),
			);
		});

		it('agrees with the BT.709 matrix in floating point within one step', () => {
			const clamp = (value: number) => Math.max(0, Math.min(255, value));
			for (let y = 16; y <= 235; y += 3)
				for (let c = 16; c <= 240; c += 7) {
					const d = 240 + 16 - c;
					const luma = (255 / 219) * (y - 16);
					const [r, g, b] = rgbReference(y, c, d);
					expect(Math.abs(r - clamp(luma + 1.79274 * (d - 128)))).toBeLessThanOrEqual(1);
					expect(Math.abs(g - clamp(luma - 0.21325 * (c - 128) - 0.53291 * (d - 128)))).toBeLessThanOrEqual(1);
					expect(Math.abs(b - clamp(luma + 2.1124 * (c - 128)))).toBeLessThanOrEqual(1);
				}
		});
	});
});
