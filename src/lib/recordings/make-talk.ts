/** Takes the sound out of a recording, with title and picture in its tags: M4A or MP3. */
import { AudioSampleSource, BufferTarget, Mp3OutputFormat, Mp4OutputFormat, Output, type Input } from 'mediabunny';
import { recordings as words } from '../words/index.ts';
import { addSound } from './make-clip.ts';

export interface TalkOrder {
	url: string;
	fromS: number;
	toS: number;
	format: 'm4a' | 'mp3';
	title: string;
	/** Who speaks, and whose evening it is. */
	artist: string;
	album: string;
	/** JPEG; null for none. */
	picture: Uint8Array<ArrayBuffer> | null;
	isForPhones: boolean;
}

const BITRATE = 128_000;

/** @throws with a sentence when there is no sound in it */
export async function makeTalk(input: Input, order: TalkOrder, onProgress: (part: number) => void): Promise<Blob> {
	const { format, title, artist, album, picture } = order;
	const audio = await input.getPrimaryAudioTrack();
	if (!audio) throw new Error(words.noSound);
	const isMp3 = format === 'mp3';
	if (isMp3) (await import('@mediabunny/mp3-encoder')).registerMp3Encoder();
	const output = new Output({
		format: isMp3 ? new Mp3OutputFormat() : new Mp4OutputFormat({ fastStart: 'in-memory' }),
		target: new BufferTarget(),
	});
	const source = new AudioSampleSource({ codec: isMp3 ? 'mp3' : 'aac', bitrate: BITRATE });
	output.addAudioTrack(source);
	output.setMetadataTags({
		...(title !== '' && { title }),
		...(artist !== '' && { artist }),
		...(album !== '' && { album }),
		...(picture && { images: [{ data: picture, mimeType: 'image/jpeg', kind: 'coverFront' as const }] }),
	});
	await output.start();
	await addSound(source, audio, order, onProgress);
	await output.finalize();
	return new Blob([(output.target as BufferTarget).buffer!], { type: isMp3 ? 'audio/mpeg' : 'audio/mp4' });
}
