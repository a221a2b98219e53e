import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MAX_STILL_BYTES, movingProblem, readStillHeader, stillProblem } from './still-header.ts';

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

/** Elements of a WebM file, one within the other: an element's id, and its body behind a size of eight bytes. */
const element = (id: number[], body: number[]) => [...id, 0x01, ...big(body.length, 7), ...body];
const webm = (width: number, height: number) => {
	const video = [...element([0x9a], [0]), ...element([0xb0], big(width, 2)), ...element([0xba], big(height, 2))];
	const track = element([0xae], [...element([0xd7], [1]), ...element([0xe0], video)]);
	const info = element([0x15, 0x49, 0xa9, 0x66], big(7, 20));
	const segment = element([0x18, 0x53, 0x80, 0x67], [...info, ...element([0x16, 0x54, 0xae, 0x6b], track)]);
	return Uint8Array.from([...element([0x1a, 0x45, 0xdf, 0xa3], big(1, 12)), ...segment]);
};

describe('the header of a picture', () => {
	it.each([
		['PNG', png(1920, 1080), 'image/png'],
		['progressive JPEG behind other markers', jpeg(1920, 1080), 'image/jpeg'],
		['lossy WebP', webp('VP8 ', [0, 0, 0, 0x9d, 1, 0x2a, ...little(1920, 2), ...little(1080, 2)]), 'image/webp'],
		['lossless WebP', webp('VP8L', [0x2f, ...little(1919 + 1079 * 2 ** 14, 4)]), 'image/webp'],
		['extended WebP', webp('VP8X', [0, 0, 0, 0, ...little(1919, 3), ...little(1079, 3)]), 'image/webp'],
	])('says how large it is: %s', (_, bytes, type) => {
		expect(readStillHeader(bytes)).toEqual({ type, width: 1920, height: 1080, moves: false });
	});

	it.each([
		['APNG', bytesOf([...png(1920, 1080)], big(0, 4), big(8, 4), 'acTL', big(0, 12)), 'image/png'],
		['WebP', webp('VP8X', [0x02, 0, 0, 0, ...little(1919, 3), ...little(1079, 3)]), 'image/webp'],
		['WebM', webm(1920, 1080), 'video/webm'],
	])('says that it moves: %s', (_, bytes, type) => {
		expect(readStillHeader(bytes)).toEqual({ type, width: 1920, height: 1080, moves: true });
	});

	it('does not take an animation behind the first picture for one', () => {
		const bytes = bytesOf([...png(8, 8)], big(0, 4), big(0, 4), 'IDAT', big(0, 4), big(8, 4), 'acTL', big(0, 12));
		expect(readStillHeader(bytes)).toMatchObject({ moves: false });
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
			webm(8, 8).slice(0, 30),
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
		expect(movingProblem('a.webm', { width: 1280, height: 720 }, 182)).toBeNull();
		expect(movingProblem('a.webm', { width: 1280, height: 720 }, 300)).toContain('182 of that size is the most');
	});
});
