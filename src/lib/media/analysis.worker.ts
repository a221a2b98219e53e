/** Computes once what is shown of a file: loudness, silence and black at its ends, a poster, a strip of thumbnails. */
import { ALL_FORMATS, BlobSource, CanvasSink, Input, UrlSource, type InputVideoTrack } from 'mediabunny';
import { isBlack, SoundAnalysis } from '../../core/media/analysis.ts';
import type { MediaAnalysis } from '../../core/media/media.ts';
import { samplesOf } from '../../engine/sources/decoded-sound.ts';

export interface AnalysisOrder {
	/** The file itself, or where it is. */
	file: Blob | string;
	lengthMs: number;
	posterMs: number;
	/** Makes the poster anew and nothing else. */
	onlyPoster?: boolean;
}

export type FromAnalysis =
	| { type: 'progress'; part: number }
	| { type: 'poster' | 'strip'; image: Blob }
	/** Without an analysis where only the poster was asked for. */
	| { type: 'done'; analysis: MediaAnalysis | null }
	| { type: 'failed'; reason: string };

const THUMBNAILS = 12;
const STRIP_HEIGHT = 72;
const POSTER_WIDTH = 640;
/** Black is looked for so far from each end, seconds. */
const BLACK_WITHIN_S = 10;
/** From the end it is looked at so often, seconds. */
const STEP_S = 0.25;
const SMALL = { width: 64, height: 36, fit: 'fill' as const, poolSize: 1 };

const post = (message: FromAnalysis) => postMessage(message);

onmessage = ({ data }: MessageEvent<AnalysisOrder>) => {
	const source = typeof data.file === 'string' ? new UrlSource(data.file) : new BlobSource(data.file);
	const input = new Input({ source, formats: ALL_FORMATS });
	analyse(input, data)
		.then((analysis) => post({ type: 'done', analysis }))
		.catch((error: unknown) => post({ type: 'failed', reason: (error as Error).message }))
		.finally(() => input.dispose());
};

async function analyse(input: Input, { lengthMs, posterMs, onlyPoster }: AnalysisOrder): Promise<MediaAnalysis | null> {
	const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
	if (video) {
		// A third of the way in, where something has come in and nothing is going out, unless one was chosen.
		const posterS = (posterMs > 0 ? posterMs : lengthMs / 3) / 1000;
		const sink = new CanvasSink(video, { width: POSTER_WIDTH });
		const poster = await sink.getCanvas(Math.min(posterS, lengthMs / 1000));
		if (poster) post({ type: 'poster', image: await jpegOf(poster.canvas) });
	}
	if (onlyPoster) return null;
	if (video) await strip(video, lengthMs);
	const black = video ? await blackEnds(video, lengthMs) : { startMs: 0, endMs: 0 };
	const sound = new SoundAnalysis(lengthMs);
	let told = 0;
	if (audio) {
		let samples = 0;
		for await (const [left, right] of samplesOf(audio, 0, lengthMs / 1000)) {
			sound.add(left, right);
			samples += left.length;
			const part = samples / 48 / lengthMs;
			if (part - told > 0.02) post({ type: 'progress', part: (told = part) });
		}
	}
	return { ...sound.result(), black, thumbnails: video ? THUMBNAILS : 0 };
}

/** For how long nothing is seen at the beginning and at the end, milliseconds. */
async function blackEnds(video: InputVideoTrack, lengthMs: number): Promise<MediaAnalysis['black']> {
	const sink = new CanvasSink(video, SMALL);
	const isBlackPicture = (canvas: HTMLCanvasElement | OffscreenCanvas) => {
		const context = (canvas as OffscreenCanvas).getContext('2d')!;
		return isBlack(context.getImageData(0, 0, SMALL.width, SMALL.height).data);
	};
	let startMs = lengthMs;
	for await (const { canvas, timestamp } of sink.canvases(0, BLACK_WITHIN_S)) {
		if (isBlackPicture(canvas)) continue;
		startMs = Math.round(1000 * timestamp);
		break;
	}
	if (startMs >= Math.min(lengthMs, 1000 * BLACK_WITHIN_S)) return { startMs: Math.min(lengthMs, startMs), endMs: 0 };
	// From the end only now and then, and never a picture too much.
	const fromS = Math.max(0, lengthMs / 1000 - BLACK_WITHIN_S);
	const times = Array.from({ length: Math.ceil(BLACK_WITHIN_S / STEP_S) }, (_, i) => fromS + i * STEP_S);
	let lastSeenMs = 1000 * fromS;
	for await (const wrapped of sink.canvasesAtTimestamps(times.filter((time) => time < lengthMs / 1000)))
		if (wrapped && !isBlackPicture(wrapped.canvas)) lastSeenMs = 1000 * (wrapped.timestamp + STEP_S);
	return { startMs, endMs: Math.max(0, Math.round(lengthMs - lastSeenMs)) };
}

async function strip(video: InputVideoTrack, lengthMs: number): Promise<void> {
	const width = Math.round((STRIP_HEIGHT * (await video.getDisplayWidth())) / (await video.getDisplayHeight()));
	const sink = new CanvasSink(video, { width, height: STRIP_HEIGHT, fit: 'fill', poolSize: 1 });
	const all = new OffscreenCanvas(THUMBNAILS * width, STRIP_HEIGHT);
	const context = all.getContext('2d')!;
	const times = Array.from({ length: THUMBNAILS }, (_, i) => ((i + 0.5) * lengthMs) / THUMBNAILS / 1000);
	let index = 0;
	for await (const wrapped of sink.canvasesAtTimestamps(times)) {
		if (wrapped) context.drawImage(wrapped.canvas, index * width, 0);
		post({ type: 'progress', part: 0 });
		index++;
	}
	post({ type: 'strip', image: await all.convertToBlob({ type: 'image/jpeg', quality: 0.8 }) });
}

function jpegOf(canvas: HTMLCanvasElement | OffscreenCanvas): Promise<Blob> {
	return (canvas as OffscreenCanvas).convertToBlob({ type: 'image/jpeg', quality: 0.85 });
}
