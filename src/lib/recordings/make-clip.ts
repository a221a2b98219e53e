/** Makes an upright or square clip of a part of a recording: cropped, with text upon it, its sound as phones want it. */
import {
	AudioSample,
	AudioSampleSource,
	BufferTarget,
	CanvasSource,
	Mp4OutputFormat,
	Output,
	VideoSampleSink,
	type Input,
	type InputAudioTrack,
} from 'mediabunny';
import { cropAt, cropRect, clipSize, type CropPoint, type Shape } from '../../core/afterwards/crop.ts';
import { captionAt, type Caption } from '../../core/afterwards/for-clips.ts';
import { forPhones, type Sides } from '../../core/afterwards/phone-sound.ts';
import { loadFonts } from '../../engine/picture/drawing.ts';
import { recordings as words } from '../words/index.ts';
import { soundOf } from './decoded.ts';

export interface ClipOrder {
	url: string;
	fromS: number;
	toS: number;
	shape: Shape;
	/** Seconds from the recording's start. */
	points: CropPoint[];
	captions: Caption[];
	/** Brings the sound to the loudness of phones. */
	isForPhones: boolean;
}

const RATE = 48_000;
/** Of a picture of 720 × 1280; others by their size. */
const VIDEO_BITRATE = 3_500_000;
const SOUND_BITRATE = 160_000;
const KEY_EVERY_S = 2;
/** Part of the work that the sound is. */
const SOUND_PART = 0.2;
const FAMILY = '"Bivvo", "Atkinson Hyperlegible Next", sans-serif';

/** @param onProgress told the part that is done, 0 to 1. @throws with a sentence when it cannot be made here */
export async function makeClip(input: Input, order: ClipOrder, onProgress: (part: number) => void): Promise<Blob> {
	const { fromS, toS, shape, points, captions } = order;
	const video = await input.getPrimaryVideoTrack();
	if (!video || !(await video.canDecode())) throw new Error(words.cannotEncode);
	const audio = await input.getPrimaryAudioTrack();
	const whole = { width: await video.getDisplayWidth(), height: await video.getDisplayHeight() };
	const size = clipSize(shape, whole);
	const canvas = new OffscreenCanvas(size.width, size.height);
	const context = canvas.getContext('2d', { alpha: false })!;
	context.imageSmoothingQuality = 'high';
	if (captions.length > 0) await loadFonts();
	const output = new Output({ format: new Mp4OutputFormat({ fastStart: 'in-memory' }), target: new BufferTarget() });
	const bitrate = Math.round((VIDEO_BITRATE * size.width * size.height) / (720 * 1280));
	const pictures = new CanvasSource(canvas, { codec: 'avc', bitrate, keyFrameInterval: KEY_EVERY_S });
	output.addVideoTrack(pictures);
	const sound = audio && new AudioSampleSource({ codec: 'aac', bitrate: SOUND_BITRATE });
	if (sound) output.addAudioTrack(sound);
	await output.start();
	if (sound) await addSound(sound, audio, order, (part) => onProgress(SOUND_PART * part));
	for await (const sample of new VideoSampleSink(video).samples(fromS, toS)) {
		const atS = Math.max(0, sample.timestamp - fromS);
		const rect = cropRect(shape, whole, cropAt(points, sample.timestamp));
		sample.draw(context, rect.x, rect.y, rect.width, rect.height, 0, 0, size.width, size.height);
		drawCaption(context, captionAt(captions, atS));
		await pictures.add(atS, Math.max(0.001, Math.min(sample.duration, toS - sample.timestamp)));
		sample.close();
		onProgress(SOUND_PART + (1 - SOUND_PART) * Math.min(1, atS / (toS - fromS)));
	}
	await output.finalize();
	return new Blob([(output.target as BufferTarget).buffer!], { type: 'video/mp4' });
}

/** Encodes the sound of a part, as loud as it is or as phones want it. */
export async function addSound(
	source: AudioSampleSource,
	track: InputAudioTrack,
	{ fromS, toS, isForPhones }: { fromS: number; toS: number; isForPhones: boolean },
	onProgress: (part: number) => void,
): Promise<void> {
	// For phones it is measured first.
	const times = isForPhones ? 2 : 1;
	let time = 0;
	const read = (): AsyncIterable<Sides> => {
		const before = time++;
		return soundOf(track, fromS, toS, (part) => onProgress((before + part) / times));
	};
	let at = 0;
	for await (const [left, right] of isForPhones ? forPhones(read) : read()) {
		if (left.length === 0) continue;
		const data = new Float32Array(2 * left.length);
		data.set(left);
		data.set(right, left.length);
		const sample = new AudioSample({
			...{ data, format: 'f32-planar', numberOfChannels: 2, sampleRate: RATE, timestamp: at / RATE },
		});
		await source.add(sample);
		sample.close();
		at += left.length;
	}
}

/** Text in the lower part of the picture, above what services lay over its edge. */
export function drawCaption(context: OffscreenCanvasRenderingContext2D | CanvasRenderingContext2D, text: string): void {
	if (text.trim() === '') return;
	const { width, height } = context.canvas;
	const size = Math.round(width / 17);
	context.font = `700 ${size}px ${FAMILY}`;
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	const lines = text.split('\n').flatMap((line) => wrapped(context, line, width * 0.84));
	const step = size * 1.3;
	const foot = height * 0.8;
	const widest = Math.max(...lines.map((line) => context.measureText(line).width));
	context.fillStyle = 'rgba(18, 22, 28, 0.82)';
	const top = foot - step * lines.length;
	context.beginPath();
	context.roundRect(
		(width - widest) / 2 - size * 0.5,
		top - size * 0.3,
		widest + size,
		step * lines.length + size * 0.6,
		size * 0.3,
	);
	context.fill();
	context.fillStyle = '#ece7db';
	for (const [i, line] of lines.entries()) context.fillText(line, width / 2, top + step * (i + 0.5));
}

/** A line in as many as it needs; a word that is too long stays whole. */
function wrapped(context: { measureText(text: string): TextMetrics }, text: string, most: number): string[] {
	const lines: string[] = [];
	for (const word of text.trim().split(/\s+/)) {
		const longer = lines.length > 0 ? `${lines.at(-1)} ${word}` : word;
		if (lines.length > 0 && context.measureText(longer).width <= most) lines[lines.length - 1] = longer;
		else lines.push(word);
	}
	return lines;
}
