import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { retryDelayMs } from './backoff.ts';
import { ProtocolError } from './bytes.ts';
import { aacFrame, avcPicture, avcSequenceHeader, parseAudioTag, parseVideoTag } from './flv.ts';
import { Interleaver } from './interleave.ts';
import { Timeline } from './timeline.ts';
import { decodeUplink, encodeUplink, type UplinkPacket } from './uplink.ts';
import { decodeUtf8, encodeUtf8 } from './utf8.ts';

describe('FLV tag bodies', () => {
	it('come back as they went in', () => {
		fc.assert(
			fc.property(
				fc.uint8Array(),
				fc.boolean(),
				fc.integer({ min: -8_388_608, max: 8_388_607 }),
				(data, key, offset) => {
					expect(parseVideoTag(avcPicture(data, key, offset))).toEqual({
						kind: 'picture',
						key,
						compositionOffsetMs: offset,
						data,
					});
					expect(parseVideoTag(avcSequenceHeader(data))).toEqual({ kind: 'config', description: data });
					expect(parseAudioTag(aacFrame(data))).toEqual({ kind: 'frame', data });
				},
			),
		);
	});

	it('refuse other codecs and truncation by name', () => {
		expect(() => parseVideoTag(Uint8Array.of(0x12, 0, 0, 0, 0))).toThrow('codec 2 is not H.264');
		expect(() => parseAudioTag(Uint8Array.of(0x2f, 0))).toThrow('codec 2 is not AAC');
		expect(() => parseVideoTag(new Uint8Array(4))).toThrow(ProtocolError);
		expect(() => parseAudioTag(new Uint8Array(1))).toThrow(ProtocolError);
	});
});

describe('the interleaver', () => {
	const packet = fc.record({ kind: fc.constantFrom('video' as const, 'audio' as const), stepUs: fc.nat(40_000) });

	it('loses nothing, and no time steps back while both kinds keep within its patience', () => {
		fc.assert(
			fc.property(fc.array(packet, { maxLength: 60 }), (list) => {
				const interleaver = new Interleaver<{ kind: 'video' | 'audio'; timeUs: number }>(Infinity);
				const clock = { video: 0, audio: 0 };
				const sent = list.map(({ kind, stepUs }) => ({ kind, timeUs: (clock[kind] += stepUs) }));
				const got = [...sent.flatMap((each) => interleaver.push(each)), ...interleaver.flush()];
				expect(got).toHaveLength(sent.length);
				expect(got.map(({ timeUs }) => timeUs)).toEqual(sent.map(({ timeUs }) => timeUs).sort((a, b) => a - b));
			}),
		);
	});

	it('waits half a second for a kind that has stopped, not longer', () => {
		const interleaver = new Interleaver<{ kind: 'video' | 'audio'; timeUs: number }>();
		interleaver.push({ kind: 'video', timeUs: 0 });
		const released = Array.from({ length: 50 }, (_, i) =>
			interleaver.push({ kind: 'audio', timeUs: i * 20_000 }),
		).flat();
		expect(released.at(-1)!.timeUs).toBe(480_000);
	});
});

describe('the timeline of a broadcast', () => {
	it('starts at nought and keeps the engine’s steps', () => {
		const timeline = new Timeline();
		expect(timeline.place(5)).toBeNull();
		timeline.anchor(7_000_000, 0, 33_333);
		expect(timeline.place(6_999_999)).toBeNull();
		expect([7_000_000, 7_033_333].map((time) => timeline.place(time))).toEqual([0, 33_333]);
	});

	it('goes on where the wall clock says when another engine takes over', () => {
		const timeline = new Timeline();
		timeline.anchor(1_000_000, 0, 33_333);
		timeline.place(3_000_000);
		timeline.attach();
		expect(timeline.anchored).toBe(false);
		timeline.anchor(500, 9_000_000, 33_333);
		expect(timeline.place(500)).toBe(9_000_000);
	});

	it('has no place for what another engine sent before its first key frame', () => {
		const timeline = new Timeline();
		timeline.anchor(0, 0, 33_333);
		timeline.place(5_000_000);
		timeline.attach();
		timeline.anchor(800_000, 5_100_000, 33_333);
		expect(timeline.place(799_999)).toBeNull();
		expect(timeline.place(800_000)).toBe(5_100_000);
	});

	it('never steps back, even when the wall clock does', () => {
		const timeline = new Timeline();
		timeline.anchor(0, 0, 33_333);
		timeline.place(5_000_000);
		timeline.attach();
		timeline.anchor(0, 1_000_000, 33_333);
		expect(timeline.place(0)).toBe(5_033_333);
	});
});

describe('the uplink’s framing', () => {
	const description = fc.uint8Array({ maxLength: 60 });
	const rendition = fc.nat(255);
	const packets: fc.Arbitrary<UplinkPacket> = fc.oneof(
		fc.record({
			kind: fc.constant('pcm' as const),
			rendition: fc.nat(255),
			timeUs: fc.nat(),
			data: fc.uint8Array({ minLength: 1 }),
		}),
		fc.constant({ kind: 'end' as const }),
		fc.record({
			kind: fc.constantFrom('video' as const, 'audio' as const),
			rendition,
			timeUs: fc.maxSafeNat(),
			key: fc.boolean(),
			data: fc.uint8Array({ minLength: 1 }),
		}),
		fc.record({
			kind: fc.constant('hold' as const),
			rendition,
			key: fc.boolean(),
			data: fc.uint8Array({ minLength: 1 }),
		}),
		fc.record({
			kind: fc.constant('videoConfig' as const),
			rendition,
			width: fc.integer({ min: 16, max: 8192 }),
			height: fc.integer({ min: 16, max: 8192 }),
			fps: fc.integer({ min: 1, max: 240 }),
			bitrateKbps: fc.integer({ min: 1, max: 200_000 }),
			description,
		}),
	);

	it('comes back as it went in', () => {
		fc.assert(fc.property(packets, (packet) => void expect(decodeUplink(encodeUplink(packet))).toEqual(packet)));
	});

	it('refuses everything else with a reason', () => {
		fc.assert(
			fc.property(packets, fc.nat(200), fc.nat(255), (packet, place, value) => {
				const bytes = encodeUplink(packet);
				bytes[place % bytes.length] = value;
				for (const each of [bytes, bytes.subarray(0, place)])
					try {
						decodeUplink(each);
					} catch (error) {
						expect(error).toBeInstanceOf(ProtocolError);
					}
			}),
			{ numRuns: 2000 },
		);
		expect(() => decodeUplink(new Uint8Array(30))).toThrow('Not an uplink packet');
	});
});

describe('waiting before the next attempt', () => {
	it('doubles from half a second to a quarter of a minute', () => {
		expect([0, 1, 2, 3, 4, 5, 6, 1000].map(retryDelayMs)).toEqual([
			500, 1000, 2000, 4000, 8000, 15_000, 15_000, 15_000,
		]);
	});
});

describe('UTF-8', () => {
	it('agrees with the platform in both directions, malformed input included', () => {
		const platform = {
			encode: (text: string) => new TextEncoder().encode(text),
			decode: new TextDecoder('utf-8', { ignoreBOM: true }),
		};
		fc.assert(
			fc.property(
				fc.string({ unit: 'binary' }),
				(text) => void expect(encodeUtf8(text)).toEqual(platform.encode(text)),
			),
		);
		fc.assert(
			fc.property(fc.string({ unit: 'binary' }), (text) => void expect(decodeUtf8(encodeUtf8(text))).toBe(text)),
		);
		fc.assert(fc.property(fc.uint8Array(), (bytes) => void expect(typeof decodeUtf8(bytes)).toBe('string')));
		expect(decodeUtf8(Uint8Array.of(0x61, 0xff, 0x62))).toBe('a\ufffdb');
	});
});
