import { describe, expect, it } from 'vitest';
import { aacFrame, aacSequenceHeader, avcPicture, avcSequenceHeader } from '../delivery/flv.ts';
import type { IngestEvent } from '../delivery/rtmp/server.ts';
import { CameraFeed } from './camera-feed.ts';
import { aacForm, avcCodec } from './codecs.ts';
import { decodeFeed, encodeFeed, type FeedPacket } from './feed.ts';

/** Of the High profile, level 3.1, with two parameter sets cut short. */
const AVC = Uint8Array.of(1, 0x64, 0, 0x1f, 0xff, 0xe1, 0, 1, 0x67, 1, 0, 1, 0x68);
/** AAC LC, 44.1 kHz, two channels. */
const AAC = Uint8Array.of(0x12, 0x10);
const NAL = Uint8Array.of(0, 0, 0, 1, 0x65);

const video = (timestampMs: number, body: Uint8Array): IngestEvent => ({ kind: 'video', timestampMs, body });
const audio = (timestampMs: number, body: Uint8Array): IngestEvent => ({ kind: 'audio', timestampMs, body });

function opened() {
	const packets: FeedPacket[] = [];
	return { packets, feed: new CameraFeed((packet) => packets.push(packet)) };
}

describe('what a camera sends', () => {
	it('reaches the desk as it is, each with the time at which it is shown', () => {
		const { packets, feed } = opened();
		feed.receive(video(700, avcSequenceHeader(AVC)), 0);
		feed.receive(audio(700, aacSequenceHeader(AAC)), 0);
		feed.receive(video(700, avcPicture(NAL, true, 66)), 0);
		feed.receive(audio(710, aacFrame(Uint8Array.of(9))), 5);
		feed.receive(video(740, avcPicture(NAL, false, 0)), 40);
		expect(packets).toEqual([
			{ kind: 'videoConfig', description: AVC },
			{ kind: 'audioConfig', description: AAC },
			{ kind: 'video', timeUs: 66_000, key: true, reordered: true, data: NAL },
			{ kind: 'audio', timeUs: 10_000, data: Uint8Array.of(9) },
			{ kind: 'video', timeUs: 40_000, key: false, reordered: false, data: NAL },
		]);
		for (const packet of packets) expect(decodeFeed(encodeFeed(packet))).toEqual(packet);
		expect([avcCodec(AVC), aacForm(AAC)]).toEqual([
			'avc1.64001f',
			{ codec: 'mp4a.40.2', sampleRate: 44_100, channels: 2 },
		]);
	});

	it('is there for a desk that comes later, from the last key frame on', () => {
		const { feed } = opened();
		feed.receive(video(0, avcSequenceHeader(AVC)), 0);
		for (const [i, key] of [true, false, true, false, false].entries())
			feed.receive(video(40 * i, avcPicture(NAL, key)), 40 * i);
		expect(feed.beginning.map((packet) => (packet.kind === 'video' ? packet.timeUs : packet.kind))).toEqual([
			...['begun', 'videoConfig'],
			...[80_000, 120_000, 160_000],
		]);
	});

	it('is ended when it is another codec, rubbish or a flood, each by its name, and says so once', () => {
		const ends = (...events: IngestEvent[]) => {
			const { packets, feed } = opened();
			const why = events.map((event) => feed.receive(event, 0)).find((each) => each !== null);
			feed.end('torn');
			return [why, packets.filter(({ kind }) => kind === 'gone')];
		};
		const gone = (why: string) => [why, [{ kind: 'gone', why }]];
		// H.265 in the way of newer encoders, and a sound that is no AAC.
		expect(ends(video(0, Uint8Array.of(0x90, 0x68, 0x76, 0x63, 0x31)))).toEqual(gone('otherCodec'));
		expect(ends(audio(0, Uint8Array.of(0x2f, 1, 2, 3, 4)))).toEqual(gone('otherCodec'));
		expect(ends(video(0, Uint8Array.of(0x17)))).toEqual(gone('rubbish'));
		expect(ends(video(0, avcSequenceHeader(Uint8Array.of(7))))).toEqual(gone('rubbish'));
		expect(ends(audio(0, aacSequenceHeader(Uint8Array.of(0xff))))).toEqual(gone('rubbish'));
		const large = video(0, avcPicture(new Uint8Array(1e6), true));
		expect(ends(...Array.from({ length: 12 }, () => large))).toEqual(gone('flood'));
		const small = audio(0, aacFrame(Uint8Array.of(1)));
		expect(ends(...Array.from({ length: 1300 }, () => small))).toEqual(gone('flood'));
		expect(ends({ kind: 'unpublished' })).toEqual(gone('left'));
	});

	it('is no picture before it has said what it is', () => {
		const { packets, feed } = opened();
		feed.receive(video(0, avcPicture(NAL, true)), 0);
		feed.receive(audio(0, aacFrame(NAL)), 0);
		expect(packets).toEqual([]);
	});
});
