import { describe, expect, it } from 'vitest';
import { RtmpPublishSession, type PublishEvent, type PublishTarget } from './client.ts';
import { RtmpIngestSession, type IngestEvent, type PublishRequest, type Refusal } from './server.ts';

const TARGET: PublishTarget = { app: 'ridge', tcUrl: 'rtmp://127.0.0.1/ridge', key: 'ridge-lantern-1845' };

/** A publisher and a host joined by two pipes that carry `step` bytes at a time. */
function connect(target: PublishTarget, refusal: Refusal | null, step = Infinity) {
	const told: PublishEvent[] = [];
	const received: IngestEvent[] = [];
	const asked: PublishRequest[] = [];
	const pipes = { toHost: [] as Uint8Array[], toPublisher: [] as Uint8Array[] };
	const random = new Uint8Array(1528).fill(7);
	const host = new RtmpIngestSession(
		random,
		(bytes) => pipes.toPublisher.push(bytes),
		(request) => {
			asked.push(request);
			return refusal;
		},
		(event) => received.push(event),
	);
	const publisher = new RtmpPublishSession(
		target,
		random,
		(bytes) => pipes.toHost.push(bytes),
		(event) => told.push(event),
	);
	const deliver = (bytes: Uint8Array, to: (part: Uint8Array) => void) => {
		const size = Math.min(step, bytes.length);
		for (let at = 0; at < bytes.length; at += size) to(bytes.subarray(at, at + size));
	};
	function run() {
		while (pipes.toHost.length > 0 || pipes.toPublisher.length > 0) {
			for (const bytes of pipes.toHost.splice(0)) deliver(bytes, (part) => host.receive(part));
			for (const bytes of pipes.toPublisher.splice(0)) deliver(bytes, (part) => publisher.receive(part));
		}
	}
	run();
	return { publisher, host, told, received, asked, run };
}

describe('publishing by RTMP', () => {
	it.each([1, 7, 1000, Infinity])('goes live whatever pieces the network makes, here of %s bytes', (step) => {
		const { told, asked, publisher } = connect(TARGET, null, step);
		expect(told).toEqual([{ kind: 'live' }]);
		expect(asked).toEqual([{ app: 'ridge', key: TARGET.key, login: null }]);
		expect(publisher.state).toBe('live');
	});

	it('carries description, pictures and sounds, then ends in good order', () => {
		const { publisher, received, run } = connect(TARGET, null);
		publisher.sendMetaData({ width: 1280, height: 720 });
		publisher.sendVideo(0, Uint8Array.of(0x17, 0, 0, 0, 0));
		publisher.sendAudio(21, Uint8Array.of(0xaf, 1, 9));
		publisher.sendVideo(0x1000021, new Uint8Array(150_000).fill(3));
		publisher.unpublish();
		run();
		expect(received.map(({ kind }) => kind)).toEqual(['metadata', 'video', 'audio', 'video', 'unpublished']);
		expect(received[0]).toMatchObject({ metaData: { width: 1280, height: 720 } });
		expect(received[3]).toMatchObject({ timestampMs: 0x1000021, body: new Uint8Array(150_000).fill(3) });
	});

	it('hands on the host’s own words when it refuses', () => {
		const refusal = { code: 'NetStream.Publish.BadName', description: 'Ridge Channel does not know this key.' };
		const { told, publisher } = connect(TARGET, refusal);
		expect(told).toEqual([
			{ kind: 'refused', code: refusal.code, fault: { code: 'said', about: { words: refusal.description } } },
		]);
		expect(() => publisher.sendAudio(0, new Uint8Array(2))).toThrow('refused');
	});

	it('tells of a refusal that comes in mid-stream', () => {
		const { host, told, run } = connect(TARGET, null);
		host.refuse({ code: 'NetStream.Publish.Rejected', description: 'Too fast.' });
		run();
		expect(told.at(-1)).toMatchObject({ kind: 'refused', fault: { about: { words: 'Too fast.' } } });
	});

	it('sends user name and password, dashes and all', () => {
		const { asked } = connect(
			{ ...TARGET, login: { user: 'hollin', password: 'carry-the-water' }, inClear: true },
			null,
		);
		expect(asked[0]!.login).toEqual({ user: 'hollin', password: 'carry-the-water' });
	});

	it('answers pings, and acknowledges what it received for each window', () => {
		const { host, run } = connect(TARGET, null);
		for (let time = 0; time < 60_000; time++) host.ping(time);
		run();
		expect(host.seen.pingAnswer).toBe(59_999);
		expect(host.seen.acknowledgedBytes).toBeGreaterThan(1_000_000);
		expect(host.seen.windowBytes).toBe(2_500_000);
	});

	it('sees at the first byte that the other side is no RTMP host', () => {
		const publisher = new RtmpPublishSession(
			TARGET,
			new Uint8Array(1528),
			() => {},
			() => {},
		);
		expect(() => publisher.receive(new TextEncoder().encode('HTTP/1.1 400 Bad Request'))).toThrow(
			'does not speak RTMP',
		);
	});
});
