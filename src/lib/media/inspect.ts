/** Looks into a file before it is uploaded: what is in it, and whether this browser can play it. */
import { ALL_FORMATS, BlobSource, Input } from 'mediabunny';
import type { MediaAbout } from '../../core/media/media.ts';
import { codecOf } from '../../engine/sources/clip-reader.ts';
import { media as words } from '../words/index.ts';

/** Frames that are looked at to tell how many come in a second. */
const LOOKED_AT = 100;

/** Says in a sentence why a file is not taken. */
class NotTaken extends Error {}

/** @throws with a sentence that says what it is and what to do, when it cannot be played */
export async function inspectFile(file: File): Promise<MediaAbout> {
	try {
		return await inspect(file);
	} catch (error) {
		throw error instanceof NotTaken ? error : new Error(words.damaged(file.name), { cause: error });
	}
}

async function inspect(file: File): Promise<MediaAbout> {
	const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
	try {
		if (!(await input.canRead())) throw new NotTaken(words.unreadable(file.name));
		const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
		for (const track of [video, audio]) {
			if (!track || (await track.canDecode())) continue;
			const codec = await codecOf(track);
			throw new NotTaken(
				track === video ? words.noPictureCodec(file.name, codec) : words.noSoundCodec(file.name, codec),
			);
		}
		if (!video && !audio) throw new NotTaken(words.nothingInIt(file.name));
		const lengthMs = Math.round(1000 * (await input.computeDuration()));
		if (lengthMs < 1) throw new NotTaken(words.nothingInIt(file.name));
		return {
			kind: video ? 'video' : 'sound',
			lengthMs,
			picture: video && {
				width: await video.getDisplayWidth(),
				height: await video.getDisplayHeight(),
				fps: Math.round(100 * (await video.computePacketStats(LOOKED_AT)).averagePacketRate) / 100,
				codec: (await video.getCodecParameterString()) ?? '',
				alpha: await video.canBeTransparent(),
			},
			sound: audio && {
				codec: (await audio.getCodecParameterString()) ?? '',
				sampleRate: await audio.getSampleRate(),
				channels: await audio.getNumberOfChannels(),
			},
		};
	} finally {
		input.dispose();
	}
}

/** True when this browser can decode a file of which that is known. */
export async function canPlay({ picture, sound }: MediaAbout): Promise<boolean> {
	const decodes = async (check: () => Promise<{ supported?: boolean }>) =>
		(await check().catch(() => ({ supported: false }))).supported === true;
	const seen = !picture || (await decodes(() => VideoDecoder.isConfigSupported({ codec: picture.codec })));
	const heard =
		!sound ||
		/pcm|ulaw|alaw/.test(sound.codec) ||
		(await decodes(() =>
			AudioDecoder.isConfigSupported({
				codec: sound.codec,
				sampleRate: sound.sampleRate,
				numberOfChannels: sound.channels,
				// Some codecs are not judged without one; what is in it does not matter here.
				...(sound.codec === 'flac' && { description: FLAC_HEADER }),
			}),
		));
	return seen && heard;
}

/** The least that a FLAC decoder wants to be told: mark and stream information. */
const FLAC_HEADER = Uint8Array.from([0x66, 0x4c, 0x61, 0x43, 0x80, 0, 0, 34, ...new Array<number>(34).fill(0)]);
