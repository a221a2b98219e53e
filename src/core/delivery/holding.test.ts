import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HoldingLine, isPlayable, type LoopPicture } from './holding.ts';
import { silentAacFrame } from './silence.ts';
import type { AudioConfig } from './uplink.ts';

const audio: AudioConfig = {
	kind: 'audioConfig',
	rendition: 0,
	sampleRate: 48_000,
	channels: 2,
	bitrateKbps: 128,
	description: Uint8Array.of(0x11, 0x90),
};
const loop: LoopPicture[] = Array.from({ length: 4 }, (_, i) => ({ key: i === 0, data: Uint8Array.of(i + 1) }));

describe('the holding line', () => {
	it('goes on from the last picture and the last sound, in order and without a gap, however often it is asked', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: 0, max: 400_000 }), { minLength: 1, maxLength: 20 }),
				fc.integer({ min: 0, max: 100_000 }),
				fc.constantFrom(25, 30, 50, 60),
				(steps, apart, fps) => {
					const last = { video: 5_000_000, audio: 5_000_000 + apart };
					const line = new HoldingLine(new Map([[0, { pictures: loop, every: 1 }]]), fps, audio, last);
					let now = 5_000_000;
					const packets = steps.flatMap((step) => line.until((now += step)));
					const times = packets.map(({ timeUs }) => timeUs);
					expect(times).toEqual(times.toSorted((a, b) => a - b));
					for (const [kind, stepUs] of [
						['video', 1e6 / fps],
						['audio', 1024 / 0.048],
					] as const) {
						const own = [last[kind], ...packets.filter((each) => each.kind === kind).map(({ timeUs }) => timeUs)];
						for (let i = 1; i < own.length; i++)
							expect(Math.abs(own[i]! - own[i - 1]! - stepUs)).toBeLessThanOrEqual(1);
						expect(now - own.at(-1)!).toBeLessThan(stepUs + 1);
					}
				},
			),
		);
	});

	it('begins with a key frame, loops, and gives each rendition its own pictures', () => {
		const other = loop.map(({ key }, i) => ({ key, data: Uint8Array.of(i + 101) }));
		const loops = new Map([
			[0, { pictures: loop, every: 1 }],
			[2, { pictures: other.slice(0, 3), every: 1 }],
			[3, { pictures: other, every: 2 }],
		]);
		const packets = new HoldingLine(loops, 25, audio, { video: 0, audio: 0 }).until(200_000);
		const of = (rendition: number) =>
			packets
				.filter((each) => each.kind === 'video' && each.rendition === rendition)
				.map(({ key, data }) => [key, data[0]]);
		expect(of(0)).toEqual([
			[true, 1],
			[false, 2],
			[false, 3],
			[false, 4],
			[true, 1],
		]);
		expect(of(2)).toEqual([
			[true, 101],
			[false, 102],
			[false, 103],
			[true, 101],
			[false, 102],
		]);
		// Half the pictures for a host that takes half of them.
		expect(of(3)).toEqual([
			[true, 101],
			[false, 102],
			[false, 103],
		]);
	});

	it('begins again for whoever comes, always with a key frame and never with two in a row; others stay as they are', () => {
		const loops = new Map([
			[0, { pictures: loop, every: 1 }],
			[1, { pictures: loop, every: 2 }],
		]);
		fc.assert(
			fc.property(fc.array(fc.constantFrom('frame', 'comes'), { maxLength: 30 }), (steps) => {
				const line = new HoldingLine(loops, 25, audio, { video: 0, audio: 0 });
				const seen: number[][] = [[], []];
				let now = 0;
				let waits = false;
				for (const step of steps) {
					if (step === 'comes') {
						line.beginAnew(0);
						waits = true;
						continue;
					}
					const pictures = line.until((now += 40_000)).filter(({ kind }) => kind === 'video');
					for (const { rendition, data } of pictures) seen[rendition]!.push(data[0]!);
					const before = seen[0]!.at(-2) ?? 4;
					// The next one, unless the last one was a key frame.
					expect(seen[0]!.at(-1)).toBe(waits && before !== 1 ? 1 : (before % 4) + 1);
					if (seen[0]!.at(-1) === 1) waits = false;
				}
				expect(seen[1]).toEqual(seen[1]!.map((_, i) => (i % 4) + 1));
			}),
		);
	});

	it('needs a key frame and something after it', () => {
		expect(isPlayable([])).toBe(false);
		expect(isPlayable(loop.slice(0, 1))).toBe(false);
		expect(isPlayable(loop.slice(1))).toBe(false);
		expect(isPlayable(loop.slice(0, 2))).toBe(true);
	});

	it('its silence has the form of one channel or of a pair', () => {
		// As far as the standard says by hand: pair element, twice 22 bits of nothing, end.
		expect([...silentAacFrame(2)]).toEqual([0x20, 0, 0, 0, 0, 0, 0x0e]);
		expect([...silentAacFrame(1)]).toEqual([0, 0, 0, 0x07]);
	});
});
