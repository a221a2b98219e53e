/** Rubbish for whatever reads what comes from a camera, and for the desk that gets it. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { ProtocolError } from '../delivery/bytes.ts';
import { CameraFeed } from './camera-feed.ts';
import { aacForm, avcCodec } from './codecs.ts';
import { decodeFeed, encodeFeed, MOST_FEED_BYTES, type FeedPacket } from './feed.ts';
import { SoundLine } from './sound-line.ts';
import { readOffer } from './whip.ts';

const bytes = (maxLength = 80) => fc.uint8Array({ maxLength });
const many = { seed: 2026, numRuns: 2000 };

/** Reads, and forgives what a reader may throw. */
function read<T>(act: () => T): T | null {
	try {
		return act();
	} catch (error) {
		if (error instanceof ProtocolError) return null;
		throw error;
	}
}

it('a camera that sends rubbish is ended by a reason, and nothing else comes of it', () => {
	const tags = fc.array(
		fc.record({
			kind: fc.constantFrom('video' as const, 'audio' as const),
			timestampMs: fc.integer({ min: 0, max: 2 ** 32 - 1 }),
			// Half of them begin as tags do that are taken.
			body: fc.oneof(
				bytes(),
				bytes().map((rest) => Uint8Array.of(0x17, 1, ...rest)),
				bytes().map((rest) => Uint8Array.of(0x17, 0, 0, 0, 0, 1, 0x64, 0, ...rest)),
				bytes().map((rest) => Uint8Array.of(0xaf, ...rest)),
			),
		}),
		{ maxLength: 30 },
	);
	fc.assert(
		fc.property(tags, (events) => {
			const packets: FeedPacket[] = [];
			const feed = new CameraFeed((packet) => packets.push(packet));
			let ended: string | null = null;
			for (const [i, event] of events.entries()) {
				const why = feed.receive(event, 40 * i);
				expect(ended !== null && why !== null).toBe(false);
				ended ??= why;
			}
			expect(packets.filter(({ kind }) => kind === 'gone')).toHaveLength(ended === null ? 0 : 1);
			for (const packet of packets) {
				if ('timeUs' in packet) expect(Number.isSafeInteger(packet.timeUs)).toBe(true);
				expect(decodeFeed(encodeFeed(packet))).toEqual(packet);
			}
		}),
		many,
	);
});

it('configurations and packets that are none are refused, and the rest makes sense', () => {
	fc.assert(
		fc.property(bytes(40), (data) => {
			const form = read(() => aacForm(data));
			if (form) expect(form.sampleRate).toBeGreaterThanOrEqual(7350);
			const codec = read(() => avcCodec(data));
			if (codec !== null) expect(codec).toMatch(/^avc1\.[0-9a-f]{6}$/);
			const packet = read(() => decodeFeed(data));
			if (packet) expect(encodeFeed(packet).length).toBeLessThanOrEqual(MOST_FEED_BYTES);
		}),
		many,
	);
});

it('an offer is taken or refused, whatever it says', () => {
	const line = fc.oneof(
		fc.string({ maxLength: 60 }),
		fc.constantFrom('v=0', 'm=video 9 UDP/TLS/RTP/SAVPF 96', 'm=audio 9 x 1', 'a=sendonly', 'a=recvonly', 'a=rtpmap:'),
	);
	fc.assert(
		fc.property(fc.array(line, { maxLength: 40 }), (lines) => {
			const read = readOffer(['v=0', ...lines].join('\r\n'));
			if ('status' in read) expect(read.message).not.toBe('');
			else expect(read.hasPicture || read.hasSound).toBe(true);
		}),
		many,
	);
});

it('the line of sound stays within bounds, whatever comes in', () => {
	const pieces = fc.array(
		fc.record({ at: fc.integer({ min: -1e9, max: 1e12 }), length: fc.integer({ min: 0, max: 4096 }) }),
		{ maxLength: 40 },
	);
	fc.assert(
		fc.property(pieces, (all) => {
			const line = new SoundLine();
			const [left, right] = [new Float32Array(128), new Float32Array(128)];
			for (const { at, length } of all) {
				const samples = new Float32Array(length).fill(0.5);
				line.push(at, samples, samples);
				line.play(left, right);
				for (const sample of left) expect(Math.abs(sample)).toBeLessThanOrEqual(0.5);
			}
		}),
		{ seed: 2026, numRuns: 100 },
	);
});
