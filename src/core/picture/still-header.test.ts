import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MAX_STILL_BYTES, readStillHeader, stillProblem } from './still-header.ts';

const bytesOf = (...parts: (string | number[])[]) =>
	Uint8Array.from(parts.flatMap((part) => (typeof part === 'string' ? [...part].map((c) => c.charCodeAt(0)) : part)));
const big = (value: number, length: number) =>
	Array.from({ length }, (_, i) => Math.floor(value / 256 ** (length - 1 - i)) & 255);
const little = (value: number, length: number) => big(value, length).reverse();

const png = (width: number, height: number) =>
	bytesOf('\x89PNG\r\n\x1a\n', big(13, 4), 'IHDR', big(width, 4), big(height, 4), [8, 6, 0, 0, 0]);
const jpeg = (width: number, height: number) =>
	bytesOf(
		[0xff, 0xd8, 0xff, 0xe0, ...big(16, 2)],
		'JFIF'.padEnd(14, '\0'),
		[0xff, 0xc4, ...big(4, 2), 1, 2],
		[0xff, 0xc2, ...big(17, 2), 8, ...big(height, 2), ...big(width, 2), 3, 0, 0, 0],
	);
const webp = (kind: string, body: number[]) =>
	bytesOf('RIFF', little(100, 4), 'WEBP', kind, little(30, 4), body, [0, 0, 0]);

describe('the header of a picture', () => {
	it.each([
		['PNG', png(1920, 1080), 'image/png'],
		['progressive JPEG behind other markers', jpeg(1920, 1080), 'image/jpeg'],
		['lossy WebP', webp('VP8 ', [0, 0, 0, 0x9d, 1, 0x2a, ...little(1920, 2), ...little(1080, 2)]), 'image/webp'],
		['lossless WebP', webp('VP8L', [0x2f, ...little(1919 + 1079 * 2 ** 14, 4)]), 'image/webp'],
		['extended WebP', webp('VP8X', [0, 0, 0, 0, ...little(1919, 3), ...little(1079, 3)]), 'image/webp'],
	])('says how large it is: %s', (_, bytes, type) => {
		expect(readStillHeader(bytes)).toEqual({ type, width: 1920, height: 1080 });
	});

	it('of a file that is cut short, or is something else, is none', () => {
		for (const whole of [png(10, 10), jpeg(10, 10), webp('VP8X', [0, 0, 0, 0, ...little(9, 3), ...little(9, 3)])])
			for (let length = 0; length < 20; length++) expect(readStillHeader(whole.slice(0, length))).toBeNull();
		expect(readStillHeader(bytesOf('<svg onload="alert(1)">'))).toBeNull();
		expect(readStillHeader(png(0, 10))).toBeNull();
	});

	it('never throws and never goes on for ever, whatever the bytes are', () => {
		const start = fc.constantFrom(
			bytesOf('\x89PNG\r\n\x1a\n'),
			bytesOf([0xff, 0xd8, 0xff]),
			bytesOf('RIFF    WEBPVP8X'),
		);
		fc.assert(
			fc.property(start, fc.uint8Array({ maxLength: 300 }), (first, rest) => {
				const header = readStillHeader(Uint8Array.from([...first, ...rest]));
				if (header) expect(header.width > 0 && header.height > 0).toBe(true);
			}),
			{ numRuns: 1000 },
		);
	});
});

describe('a picture that is not taken', () => {
	it('is refused with its name and what to do', () => {
		expect(stillProblem('a.png', 100, readStillHeader(png(1920, 1080)))).toBeNull();
		expect(stillProblem('a.png', 100, readStillHeader(png(20_000, 20_000)))).toContain('a.png is 20000 × 20000; 8192');
		expect(stillProblem('a.png', MAX_STILL_BYTES + 1, null)).toContain('25 MB is the most');
		expect(stillProblem('a.png', 100, null)).toContain('a.png is not a picture');
	});
});
