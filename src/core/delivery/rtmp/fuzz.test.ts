import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ProtocolError } from '../bytes.ts';
import { avcPicture, parseAudioTag, parseVideoTag } from '../flv.ts';
import { decodeUplink, encodeUplink } from '../uplink.ts';
import { RtmpPublishSession } from './client.ts';
import { RtmpIngestSession } from './server.ts';

const RANDOM = new Uint8Array(1528).fill(7);
const TARGET = {
	app: 'valley',
	tcUrl: 'rtmp://127.0.0.1/valley',
	key: 'valley-lantern-1845',
	login: { user: 'hollin', password: 'carry-the-water' },
};

/** All that both sides say in a short broadcast, in good order: what mutations start from. */
function capture(): { toHost: Uint8Array; toPublisher: Uint8Array } {
	const said = { toHost: [] as Uint8Array[], toPublisher: [] as Uint8Array[] };
	const waiting = { toHost: [] as Uint8Array[], toPublisher: [] as Uint8Array[] };
	const say = (to: 'toHost' | 'toPublisher') => (bytes: Uint8Array) => {
		said[to].push(bytes);
		waiting[to].push(bytes);
	};
	const host = new RtmpIngestSession(
		RANDOM,
		say('toPublisher'),
		() => null,
		() => {},
	);
	const publisher = new RtmpPublishSession(TARGET, RANDOM, say('toHost'), () => {});
	const run = () => {
		while (waiting.toHost.length + waiting.toPublisher.length > 0) {
			for (const bytes of waiting.toHost.splice(0)) host.receive(bytes);
			for (const bytes of waiting.toPublisher.splice(0)) publisher.receive(bytes);
		}
	};
	run();
	publisher.sendMetaData({ width: 1280, height: 720, encoder: 'Bivvo' });
	for (let i = 0; i < 4; i++) publisher.sendVideo(33 * i, avcPicture(new Uint8Array(3000).fill(i), i === 0));
	publisher.sendAudio(21, Uint8Array.of(0xaf, 1, 9));
	run();
	host.ping(77);
	publisher.unpublish();
	run();
	return { toHost: Buffer.concat(said.toHost), toPublisher: Buffer.concat(said.toPublisher) };
}
const { toHost, toPublisher } = capture();

/** Some bytes changed, some cut out, the rest cut up. Most change what lies behind the handshake. */
const damage = fc.record({
	changes: fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 0, max: 255 })), {
		maxLength: 12,
	}),
	cut: fc.option(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 1, max: 200 }))),
	step: fc.integer({ min: 1, max: 5000 }),
});
type Damage = typeof damage extends fc.Arbitrary<infer T> ? T : never;

function damaged(bytes: Uint8Array, { changes, cut }: Damage): Uint8Array {
	const copy = bytes.slice();
	for (const [place, value] of changes) copy[Math.floor(3073 + place * (copy.length - 3074))] = value;
	if (!cut) return copy;
	const from = Math.floor(cut[0] * copy.length);
	return Buffer.concat([copy.subarray(0, from), copy.subarray(from + cut[1])]);
}

/** Feeds bytes in pieces; only an error that names the other side's fault may come of it. */
function feed(bytes: Uint8Array, step: number, receive: (part: Uint8Array) => void): void {
	try {
		for (let at = 0; at < bytes.length; at += step) receive(bytes.subarray(at, at + step));
	} catch (error) {
		expect(error).toBeInstanceOf(ProtocolError);
		expect((error as Error).message).not.toContain(TARGET.key);
	}
}

describe('what comes from a network may be anything', () => {
	it('a host that a damaged publisher talks to says what is wrong, or goes on', () => {
		fc.assert(
			fc.property(damage, (how) => {
				let kept = 0;
				const host = new RtmpIngestSession(
					RANDOM,
					() => {},
					() => null,
					(event) => {
						if (event.kind === 'video' || event.kind === 'audio') kept += event.body.length;
					},
				);
				feed(damaged(toHost, how), how.step, (part) => host.receive(part));
				// Nothing is made up: no more comes out than went in.
				expect(kept).toBeLessThanOrEqual(toHost.length);
			}),
			{ numRuns: 400 },
		);
	});

	it('a publisher that a damaged host talks to says what is wrong, or goes on', () => {
		fc.assert(
			fc.property(damage, (how) => {
				const publisher = new RtmpPublishSession(
					TARGET,
					RANDOM,
					() => {},
					() => {},
				);
				feed(damaged(toPublisher, how), how.step, (part) => publisher.receive(part));
			}),
			{ numRuns: 400 },
		);
	});

	it('noise is told apart from a protocol', () => {
		fc.assert(
			fc.property(fc.uint8Array({ maxLength: 6000 }), fc.integer({ min: 1, max: 3000 }), (noise, step) => {
				feed(noise, step, (part) =>
					new RtmpIngestSession(
						RANDOM,
						() => {},
						() => null,
						() => {},
					).receive(part),
				);
				for (const read of [decodeUplink, parseVideoTag, parseAudioTag])
					feed(noise, noise.length || 1, (part) => void read(part));
			}),
		);
	});

	it('a damaged uplink packet is refused or read, and is never more than what came', () => {
		const about = { rendition: 0, width: 1280, height: 720, fps: 30, bitrateKbps: 2500 };
		const whole = encodeUplink({ kind: 'videoConfig', ...about, description: new Uint8Array(40).fill(5) });
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 8 }),
				fc.nat(whole.length),
				(changes, end) => {
					const packet = whole.slice(0, end);
					for (const [at, value] of changes) if (at < end) packet[at] = value;
					feed(packet, packet.length || 1, (part) => {
						const read = decodeUplink(part);
						if ('description' in read) expect(read.description.length).toBeLessThanOrEqual(packet.length);
					});
				},
			),
			{ numRuns: 1000 },
		);
	});
});
