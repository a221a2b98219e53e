import { describe, expect, it } from 'vitest';
import { PageFollower } from './follow.ts';
import type { Planes } from './planes.ts';

const WIDTH = 320;
const HEIGHT = 240;
const PAGE = 1200;
/** Where the telephone numbers stand on the page. */
const SECRET = { x: 40, y: 420, width: 180, height: 50 };

/** A page of lines of made-up words, none like another. */
function page(seed: number): Float32Array {
	const luma = new Float32Array(WIDTH * PAGE).fill(235);
	let state = seed;
	const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
	for (let line = 8; line < PAGE - 16; line += 18) {
		let x = 10;
		while (x < WIDTH - 40) {
			const word = 8 + Math.floor(random() * 40);
			for (let y = line; y < line + 11; y++)
				for (let i = x; i < x + word; i++) if (random() < 0.5) luma[y * WIDTH + i] = 30;
			x += word + 8;
		}
	}
	return luma;
}
/** What is seen of a page scrolled to `top`, between rows if need be. */
function windowAt(luma: Float32Array, top: number): Uint8Array {
	const [row, share] = [Math.floor(top), top % 1];
	return Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
		const at = row * WIDTH + i;
		return Math.round(luma[at]! * (1 - share) + luma[at + WIDTH]! * share);
	});
}
const planes = { y: 0, strideY: WIDTH, width: WIDTH, height: HEIGHT } as Planes;

/** Follows a scroll from `tops[0]` on; returns for how many pictures it was certain. */
function followed(luma: Float32Array, tops: readonly number[]): number {
	const follower = new PageFollower();
	const area = { ...SECRET, y: SECRET.y - tops[0]! };
	let certain = 0;
	for (const top of tops) {
		const found = follower.follow(windowAt(luma, top), planes, area);
		// Not certain: all of the source is patched, so nothing can be read.
		if (!found) continue;
		certain++;
		const truth = SECRET.y - top;
		const open = (from: number, to: number) => Math.max(0, Math.min(HEIGHT, to) - Math.max(0, from));
		expect(open(truth, Math.min(found.y, truth + SECRET.height)), `above, at ${top}`).toBe(0);
		expect(open(Math.max(found.y + found.height, truth), truth + SECRET.height), `below, at ${top}`).toBe(0);
		expect(found.x).toBeLessThanOrEqual(SECRET.x);
		expect(found.x + found.width).toBeGreaterThanOrEqual(SECRET.x + SECRET.width);
	}
	return certain;
}
const steps = (from: number, by: number, count: number) => Array.from({ length: count }, (_, i) => from + i * by);

describe('following a page', () => {
	it.each([
		['a slow scroll down', steps(350, 1, 60)],
		['a fast one', steps(330, 23, 7)],
		['one up', steps(380, -7, 20)],
		['one between pixels', steps(350, 0.4, 60)],
		['one too slow to be seen from picture to picture', steps(350, 0.05, 60)],
		['a jump', [350, 350, 350, 440, 440, 300, 300, 350]],
		['out of sight and back', [...steps(350, 20, 8), ...steps(490, -20, 8)]],
	])('keeps all of what is covered covered, and knows where it is: %s', (_, tops) => {
		expect(followed(page(7), tops)).toBe(tops.length);
	});

	it('says that it does not know when the page is another one, and knows again when it is back', () => {
		const [first, other] = [page(1), page(99)];
		const follower = new PageFollower();
		const look = (luma: Float32Array, top: number) =>
			follower.follow(windowAt(luma, top), planes, { ...SECRET, y: 70 });
		expect(look(first, 350)).not.toBeNull();
		expect(look(other, 350)).toBeNull();
		expect(look(other, 380)).toBeNull();
		expect(look(first, 360)).toMatchObject({ y: 70 - 10 - 4 });
	});

	it('does not guess on lines that all look alike, nor on an empty page', () => {
		const alike = new Float32Array(WIDTH * PAGE);
		for (let i = 0; i < alike.length; i++) alike[i] = Math.floor(i / WIDTH) % 18 < 9 ? 30 : 235;
		const empty = new Float32Array(WIDTH * PAGE).fill(235);
		for (const luma of [alike, empty]) {
			const follower = new PageFollower();
			follower.follow(windowAt(luma, 350), planes, SECRET);
			expect(follower.follow(windowAt(luma, 357), planes, SECRET)).toBeNull();
		}
	});

	it('does not guess where things are in a window of another size, until it is back', () => {
		const luma = page(3);
		const follower = new PageFollower();
		const small = { ...planes, height: HEIGHT - 40 };
		const look = (of: Planes) => follower.follow(windowAt(luma, 350), of, { ...SECRET, y: 70 });
		expect(look(planes)).not.toBeNull();
		expect([look(small), look(small), look(small)]).toEqual([null, null, null]);
		expect(look(planes)).toMatchObject({ y: 66 });
	});

	it('finds its way on a picture of a thousand lines as well', () => {
		const [width, height] = [640, 1080];
		const rows = Array.from({ length: 3000 }, (_, y) => {
			const line = Math.floor(y / 24);
			const inked = (x: number) => (Math.imul((x >> 3) * 7919 + line * 104_729, 0x9e3779b1) >>> 16) % 3 === 0;
			return (x: number) => (y % 24 < 14 && inked(x) ? 40 : 230);
		});
		const large = { y: 0, strideY: width, width, height } as Planes;
		const seen = (top: number) =>
			Uint8Array.from({ length: width * height }, (_, i) => rows[top + Math.floor(i / width)]!(i % width));
		const follower = new PageFollower();
		const area = { x: 100, y: 500, width: 200, height: 60 };
		follower.follow(seen(600), large, area);
		for (const top of [607, 640, 720, 600]) {
			const found = follower.follow(seen(top), large, area)!;
			const truth = 500 - (top - 600);
			expect(found.y).toBeLessThanOrEqual(truth);
			expect(found.y + found.height).toBeGreaterThanOrEqual(truth + 60);
			expect(found.height).toBeLessThan(80);
		}
	});

	it('survives a bar that stays while the page scrolls', () => {
		const luma = page(5);
		const follower = new PageFollower();
		const look = (top: number) => {
			const seen = windowAt(luma, top);
			for (let i = 0; i < WIDTH * 20; i++) seen[i] = i % 7 < 3 ? 60 : 90;
			return follower.follow(seen, planes, { ...SECRET, y: 70 });
		};
		look(350);
		expect(look(362)).toMatchObject({ y: 70 - 12 - 4 });
	});
});
