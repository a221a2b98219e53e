/** Copies a recording to where it belongs on another one's line of time, without coding it anew. */
import {
	ALL_FORMATS,
	EncodedAudioPacketSource,
	EncodedPacketSink,
	EncodedVideoPacketSource,
	FilePathSource,
	Input,
	MkvOutputFormat,
	Mp4OutputFormat,
	type EncodedPacket,
} from 'mediabunny';
import type { Placed } from '../../core/sound/placing.ts';
import { copying } from './copying.ts';

/** What an MP4 file of the broadcast's other recordings would hold. */
const IN_MP4 = ['avc', 'hevc', 'av1', 'vp9'];

/** Browsers give two pictures one time where a machine stood still; they have to follow each other. Seconds. */
const LEAST_APART_S = 0.001;

/** The end of its file's name: editors read MP4 best, and it holds not all that browsers record. @throws when it cannot be read */
export async function endingFor(file: string): Promise<'mp4' | 'mkv'> {
	const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
	try {
		const video = await input.getPrimaryVideoTrack();
		return !video || IN_MP4.includes(video.codec ?? '') ? 'mp4' : 'mkv';
	} finally {
		input.dispose();
	}
}

/**
 * What would come before the other one begins is left out, pictures up to the next that stands alone.
 * @param to appears only when it is whole
 * @returns when the last of it ends, seconds
 * @throws with a sentence when nothing of it can be copied
 */
export async function copyPlaced(file: string, to: string, { beginsS, rate }: Placed): Promise<number> {
	return copying(file, to, async (input, begin) => {
		const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
		const format = to.endsWith('.mkv') ? new MkvOutputFormat() : new Mp4OutputFormat({ fastStart: false });
		const output = begin(format);
		let endS = 0;
		const placed = (packet: EncodedPacket, afterS = -Infinity) => {
			const timestamp = Math.max(beginsS + rate * packet.timestamp, afterS);
			const duration = rate * packet.duration;
			endS = Math.max(endS, timestamp + duration);
			return packet.clone({ timestamp, duration });
		};
		const isBefore = (packet: EncodedPacket) => beginsS + rate * packet.timestamp < 0;
		const copies: (() => Promise<void>)[] = [];
		if (video?.codec) {
			const source = new EncodedVideoPacketSource(video.codec);
			output.addVideoTrack(source);
			copies.push(async () => {
				const decoderConfig = (await video.getDecoderConfig()) ?? undefined;
				let began = false;
				let afterS = -Infinity;
				for await (const packet of new EncodedPacketSink(video).packets()) {
					began ||= packet.type === 'key' && !isBefore(packet);
					if (!began) continue;
					const moved = placed(packet, afterS);
					afterS = moved.timestamp + LEAST_APART_S;
					await source.add(moved, { decoderConfig });
				}
				source.close();
			});
		}
		if (audio?.codec) {
			const source = new EncodedAudioPacketSource(audio.codec);
			output.addAudioTrack(source);
			copies.push(async () => {
				const decoderConfig = (await audio.getDecoderConfig()) ?? undefined;
				for await (const packet of new EncodedPacketSink(audio).packets())
					if (!isBefore(packet)) await source.add(placed(packet), { decoderConfig });
				source.close();
			});
		}
		if (copies.length === 0) throw new Error('There is no sound or picture in this recording.');
		await output.start();
		await Promise.all(copies.map((copy) => copy()));
		if (endS <= 0) throw new Error('Nothing of this recording was made while the other one was.');
		return endS;
	});
}
