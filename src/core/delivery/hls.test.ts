import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeMaterial, type Material } from '../../../tests/support/media.ts';
import { HlsShelf } from './hls.ts';

let folder: string;
let material: Material;
beforeAll(async () => {
	folder = mkdtempSync(path.join(tmpdir(), 'bivvo-hls-'));
	material = await makeMaterial(folder, 60);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Puts a stretch of the material on a shelf, as one connection of a publisher. */
async function shelve(shelf: HlsShelf, seconds: number): Promise<void> {
	const { video, audio, packets } = material;
	const writer = shelf.begin(video.description, video, audio.description);
	for (const { kind, data, key, timeUs } of packets) {
		if (timeUs > seconds * 1e6) break;
		await (kind === 'video' ? writer.addPicture(data, key, timeUs / 1000) : writer.addSound(data, timeUs / 1000));
	}
	await writer.end();
}
const lines = (shelf: HlsShelf) => shelf.playlist()!.trim().split('\n');
const tag = (shelf: HlsShelf, name: string) =>
	lines(shelf)
		.find((line) => line.startsWith(`#EXT-X-${name}:`))!
		.split(':')[1];

describe('the HLS playlist (RFC 8216)', () => {
	it('is not there before the first segment', () => {
		expect(new HlsShelf().playlist()).toBeNull();
	});

	it('lists segments of two seconds behind their initialisation, all of which can be fetched', async () => {
		const shelf = new HlsShelf();
		await shelve(shelf, 9);
		const names = lines(shelf).filter((line) => line.endsWith('.m4s'));
		expect(names.length).toBeGreaterThanOrEqual(4);
		for (const name of names) expect(shelf.file(name)!.length).toBeGreaterThan(1000);
		const durations = lines(shelf).flatMap((line) => /^#EXTINF:([\d.]+),$/.exec(line)?.[1] ?? []);
		for (const duration of durations.slice(0, -1)) expect(Number(duration)).toBeCloseTo(2, 1);
		const init = /URI="(.+)"/.exec(shelf.playlist()!)![1]!;
		expect(Buffer.from(shelf.file(init)!).subarray(4, 8).toString()).toBe('ftyp');
		// Section 4.3.3.1: no segment is longer than the target duration, rounded.
		expect(Math.max(...durations.map((each) => Math.round(Number(each))))).toBeLessThanOrEqual(
			Number(tag(shelf, 'TARGETDURATION')),
		);
	});

	it('lists the last six, counts those before, and forgets the oldest', async () => {
		const shelf = new HlsShelf();
		await shelve(shelf, 60);
		expect(lines(shelf).filter((line) => line.endsWith('.m4s'))).toHaveLength(6);
		expect(Number(tag(shelf, 'MEDIA-SEQUENCE'))).toBeGreaterThanOrEqual(23);
		expect(shelf.file('part-1.m4s')).toBeUndefined();
		// Three segments, of which the very last one may be the short rest of the stream.
		expect(shelf.expectedDelayS).toBeGreaterThanOrEqual(4);
		expect(shelf.expectedDelayS).toBeLessThanOrEqual(7);
	});

	it('marks where a publisher came back, and keeps counting that once it is out of sight', async () => {
		const shelf = new HlsShelf();
		await shelve(shelf, 5);
		await shelve(shelf, 5);
		expect(lines(shelf).filter((line) => line === '#EXT-X-DISCONTINUITY')).toHaveLength(1);
		expect(lines(shelf).filter((line) => line.startsWith('#EXT-X-MAP'))).toEqual([
			'#EXT-X-MAP:URI="init-1.mp4"',
			'#EXT-X-MAP:URI="init-2.mp4"',
		]);
		await shelve(shelf, 30);
		expect(lines(shelf)).not.toContain('#EXT-X-DISCONTINUITY');
		expect(tag(shelf, 'DISCONTINUITY-SEQUENCE')).toBe('2');
	});

	it('counts on where another shelf goes on, however much the first one had', async () => {
		let now = Date.UTC(2026, 10, 28, 19);
		const dated = () => new HlsShelf({ wallClock: () => now });
		const [one, other] = [dated(), ((now += 60_000), dated())];
		await shelve(one, 60);
		await shelve(other, 5);
		for (const name of ['MEDIA-SEQUENCE', 'DISCONTINUITY-SEQUENCE'])
			expect(Number(tag(other, name))).toBeGreaterThan(Number(tag(one, name)));
	});

	it('says when it is over', async () => {
		const shelf = new HlsShelf();
		await shelve(shelf, 5);
		shelf.ended = true;
		expect(lines(shelf).at(-1)).toBe('#EXT-X-ENDLIST');
	});
});
