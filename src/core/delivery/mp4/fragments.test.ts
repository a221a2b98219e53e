import fc from 'fast-check';
import { ALL_FORMATS, BufferSource, EncodedPacketSink, Input, type InputTrack } from 'mediabunny';
import { expect, it } from 'vitest';
import { concat } from '../bytes.ts';
import type { AudioConfig, MediaPacket, VideoConfig } from '../uplink.ts';
import { Fragments } from './fragments.ts';
import { movieHeader } from './header.ts';

const FORM = { rendition: 0, bitrateKbps: 1500 };
// Baseline profile, level 3.1, with the shortest parameter sets that still have a type.
const AVCC = Uint8Array.of(1, 66, 192, 31, 0xff, 0xe1, 0, 4, 0x67, 66, 192, 31, 1, 0, 2, 0x68, 0xce);
const VIDEO: VideoConfig = { ...FORM, kind: 'videoConfig', width: 1280, height: 720, fps: 30, description: AVCC };
const AUDIO: AudioConfig = {
	...FORM,
	kind: 'audioConfig',
	sampleRate: 48_000,
	channels: 2,
	description: Uint8Array.of(0x11, 0x90),
};

const packet = (kind: 'video' | 'audio', timeUs: number, key: boolean, data: Uint8Array): MediaPacket => ({
	kind,
	rendition: 0,
	timeUs,
	key,
	data,
});

function written(packets: MediaPacket[], audio: AudioConfig | null = AUDIO): Uint8Array {
	const fragments = new Fragments(VIDEO, audio);
	const pieces = packets.flatMap((each) => fragments.add(each));
	return concat([movieHeader(VIDEO, audio), ...pieces, ...fragments.flush()]);
}

async function packetsOf(track: InputTrack) {
	const found = [];
	for await (const { timestamp, type, data } of new EncodedPacketSink(track).packets())
		found.push({ timeUs: Math.round(timestamp * 1e6), key: type === 'key', data: [...data] });
	return found;
}

async function read(file: Uint8Array) {
	const input = new Input({ source: new BufferSource(file), formats: ALL_FORMATS });
	const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
	return { video, audio, pictures: video && (await packetsOf(video)), sounds: audio && (await packetsOf(audio)) };
}

/** Distances between pictures: mostly a frame, now and then a gap. */
const steps = fc.array(fc.oneof({ weight: 9, arbitrary: fc.constant(33_333) }, fc.integer({ min: 1, max: 4e6 })), {
	minLength: 1,
	maxLength: 120,
});

it('every packet is read again as it was, gaps and all', async () => {
	await fc.assert(
		fc.asyncProperty(steps, fc.integer({ min: 0, max: 2 ** 45 }), async (distances, startUs) => {
			let timeUs = startUs;
			const pictures = distances.map((distance, i) => {
				timeUs += distance;
				return packet('video', timeUs, i % 60 === 0, Uint8Array.of(0, 0, 0, 1, i));
			});
			const sounds = pictures.map(({ timeUs }, i) => packet('audio', timeUs + 5000, true, Uint8Array.of(9, i, i)));
			const all = [...pictures, ...sounds].sort((a, b) => a.timeUs - b.timeUs);
			const found = await read(written(all));
			const plain = ({ timeUs, key, data }: MediaPacket) => ({ timeUs, key, data: [...data] });
			expect(found.pictures).toEqual(pictures.map(plain));
			expect(found.sounds!.map(({ data }) => data)).toEqual(sounds.map(({ data }) => [...data]));
			// Sound is counted in samples: half of one is 10.4 µs.
			for (const [i, { timeUs }] of sounds.entries())
				expect(Math.abs(found.sounds![i]!.timeUs - timeUs)).toBeLessThanOrEqual(11);
		}),
		{ numRuns: 40 },
	);
});

it('the header says what a player has to know', async () => {
	const { video, audio } = await read(written([packet('video', 0, true, Uint8Array.of(0, 0, 0, 1, 0x65))]));
	expect(await video!.getDecoderConfig()).toMatchObject({
		codec: 'avc1.42c01f',
		codedWidth: 1280,
		codedHeight: 720,
		description: AVCC,
		colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
	});
	expect(await audio!.getDecoderConfig()).toMatchObject({
		codec: 'mp4a.40.2',
		sampleRate: 48_000,
		numberOfChannels: 2,
		description: AUDIO.description,
	});
});

it('a piece is handed out each second, and none waits for a key frame', () => {
	const fragments = new Fragments(VIDEO, null);
	const handedAt = [];
	for (let i = 0; i < 300; i++) {
		const timeUs = Math.round((i * 1e6) / 30);
		if (fragments.add(packet('video', timeUs, i % 60 === 0, new Uint8Array(10))).length > 0)
			handedAt.push(timeUs / 1e6);
	}
	expect(handedAt).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
});

it('a picture alone has no track of sound', async () => {
	const { audio, pictures } = await read(written([packet('video', 0, true, Uint8Array.of(0, 0, 0, 1, 1))], null));
	expect(audio).toBeNull();
	expect(pictures).toHaveLength(1);
});
