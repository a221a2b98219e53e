/** Takes a part out of a recording without coding it anew: as exact as its key frames. */
import {
	ALL_FORMATS,
	EncodedAudioPacketSource,
	EncodedPacketSink,
	EncodedVideoPacketSource,
	FilePathSource,
	Input,
	Mp4OutputFormat,
} from 'mediabunny';
import { copying } from './copying.ts';

export interface Part {
	/** Seconds from the start of the recording. */
	fromS: number;
	toS: number;
	/** Leaves the picture out. */
	soundOnly?: boolean;
}

/** Length of a recording in seconds. @throws when it cannot be read */
export async function durationOf(file: string): Promise<number> {
	const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
	try {
		return await input.computeDuration();
	} finally {
		input.dispose();
	}
}

/**
 * Copies a part into an ordinary MP4 file that can be sought in. It begins at the key frame before `fromS`, or there.
 * @param to appears only when it is whole
 * @returns where it begins, seconds from the start of the recording
 * @throws with a sentence when there is nothing to be copied
 */
export async function copyPart(file: string, to: string, { fromS, toS, soundOnly = false }: Part): Promise<number> {
	return copying(file, to, async (input, begin) => {
		if (fromS > 0 && fromS >= (await input.computeDuration()))
			throw new Error('There is nothing between these two moments.');
		const [video, audio] = [soundOnly ? null : await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
		const pictures = video && { sink: new EncodedPacketSink(video), source: new EncodedVideoPacketSource('avc') };
		const sounds = audio && { sink: new EncodedPacketSink(audio), source: new EncodedAudioPacketSource('aac') };
		if (!pictures && !sounds) throw new Error('There is no sound or picture in this recording.');
		// Its file is opened here and now, and closed by what follows alone.
		const output = begin(new Mp4OutputFormat({ fastStart: false }));
		if (pictures) output.addVideoTrack(pictures.source);
		if (sounds) output.addAudioTrack(sounds.source);
		await output.start();
		const first = pictures && ((await pictures.sink.getKeyPacket(fromS)) ?? (await pictures.sink.getFirstPacket()));
		// All of a picture that was recorded apart begins with the program, even where its camera came later.
		const startS = fromS === 0 ? 0 : (first?.timestamp ?? fromS);
		let copied = 0;
		const videoConfig = pictures && (await video!.getDecoderConfig());
		const audioConfig = sounds && (await audio!.getDecoderConfig());
		const copyPictures = async () => {
			if (!pictures || !first) return;
			for await (const packet of pictures.sink.packets(first)) {
				if (packet.timestamp >= toS) break;
				await pictures.source.add(packet.clone({ timestamp: packet.timestamp - startS }), {
					decoderConfig: videoConfig!,
				});
				copied++;
			}
			pictures.source.close();
		};
		const copySounds = async () => {
			if (!sounds) return;
			const begin = (await sounds.sink.getPacket(startS)) ?? (await sounds.sink.getFirstPacket());
			if (!begin) return;
			for await (const packet of sounds.sink.packets(begin)) {
				if (packet.timestamp >= toS) break;
				if (packet.timestamp < startS) continue;
				await sounds.source.add(packet.clone({ timestamp: packet.timestamp - startS }), {
					decoderConfig: audioConfig!,
				});
				copied++;
			}
			sounds.source.close();
		};
		await Promise.all([copyPictures(), copySounds()]);
		if (copied === 0) throw new Error('There is nothing between these two moments.');
		return startS;
	});
}
