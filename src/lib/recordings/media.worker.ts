/** What is done with a recording away from the page: seen at a glance, cut to the frame, taken out as sound. */
import { registerAacEncoder } from '@mediabunny/aac-encoder';
import {
	ALL_FORMATS,
	AppendOnlyStreamTarget,
	AudioSampleSink,
	CanvasSink,
	Conversion,
	Input,
	Mp4OutputFormat,
	Output,
	UrlSource,
} from 'mediabunny';
import { Peaks } from '../../core/sound/peaks.ts';
import { toPcm24, wavHeader, BYTES_PER_SAMPLE } from '../../core/sound/wav.ts';
import { recordings as words } from '../words/index.ts';
import { makeClip, type ClipOrder } from './make-clip.ts';
import { makeTalk, type TalkOrder } from './make-talk.ts';

export type ToMedia =
	| { job: 'overview'; url: string; parts: number; pictures: number }
	| { job: 'cut'; url: string; fromS: number; toS: number }
	| { job: 'sound'; url: string }
	| ({ job: 'clip' } & ClipOrder)
	| ({ job: 'talk' } & TalkOrder);

export type FromMedia =
	/** One of the pictures along the recording. */
	| { type: 'picture'; index: number; image: Blob }
	/** The shape of the sound as far as it is known. */
	| { type: 'peaks'; heights: Float32Array<ArrayBuffer> }
	/** Part of the work that is done, 0 to 1. */
	| { type: 'progress'; part: number }
	| { type: 'file'; file: Blob }
	| { type: 'done' }
	| { type: 'failed'; reason: string };

/** Peaks are told so often, by the seconds of sound between. */
const REPORT_EVERY_S = 30;
const PICTURE_HEIGHT = 90;
/** Pictures are encoded anew with a little more than they had, so that nobody sees it. */
const BITRATE_FACTOR = 1.3;

registerAacEncoder();

const post = (message: FromMedia) => postMessage(message);

onmessage = ({ data }: MessageEvent<ToMedia>) => {
	const input = new Input({ source: new UrlSource(data.url), formats: ALL_FORMATS });
	run(input, data)
		.then(() => post({ type: 'done' }))
		.catch((error: unknown) => post({ type: 'failed', reason: (error as Error).message }))
		.finally(() => input.dispose());
};

function run(input: Input, order: ToMedia): Promise<void> {
	switch (order.job) {
		case 'overview':
			return overview(input, order);
		case 'cut':
			return cut(input, order);
		case 'sound':
			return sound(input);
		case 'clip':
			return deliver(makeClip(input, order, progress));
		case 'talk':
			return deliver(makeTalk(input, order, progress));
	}
}

/** Told by whole percents. */
let told = -1;
function progress(part: number): void {
	const percent = Math.floor(100 * part);
	if (percent !== told) post({ type: 'progress', part });
	told = percent;
}

async function deliver(made: Promise<Blob>): Promise<void> {
	post({ type: 'file', file: await made });
}

async function overview(input: Input, { parts, pictures }: Extract<ToMedia, { job: 'overview' }>): Promise<void> {
	const durationS = await input.computeDuration();
	const video = await input.getPrimaryVideoTrack();
	if (video) {
		const sink = new CanvasSink(video, { height: PICTURE_HEIGHT, poolSize: 1 });
		const times = Array.from({ length: pictures }, (_, i) => ((i + 0.5) * durationS) / pictures);
		let index = 0;
		for await (const wrapped of sink.canvasesAtTimestamps(times)) {
			const canvas = wrapped?.canvas as OffscreenCanvas | undefined;
			if (canvas) post({ type: 'picture', index, image: await canvas.convertToBlob({ type: 'image/jpeg' }) });
			index++;
		}
	}
	const audio = await input.getPrimaryAudioTrack();
	if (!audio) return;
	const peaks = new Peaks(parts, durationS);
	let reportedS = 0;
	await eachSound(new AudioSampleSink(audio), (sides, atS, rate) => {
		for (const side of sides) peaks.add(side, atS, rate);
		if (atS - reportedS < REPORT_EVERY_S) return;
		reportedS = atS;
		post({ type: 'peaks', heights: peaks.heights.slice() });
	});
	post({ type: 'peaks', heights: peaks.heights });
}

/** Decodes a sound from its beginning to its end. */
async function eachSound(
	sink: AudioSampleSink,
	take: (sides: Float32Array[], atS: number, rate: number) => void,
): Promise<void> {
	for await (const sample of sink.samples()) {
		const sides = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
			const samples = new Float32Array(sample.numberOfFrames);
			sample.copyTo(samples, { planeIndex, format: 'f32-planar' });
			return samples;
		});
		take(sides, sample.timestamp, sample.sampleRate);
		sample.close();
	}
}

async function cut(input: Input, { fromS, toS }: Extract<ToMedia, { job: 'cut' }>): Promise<void> {
	const parts: Uint8Array<ArrayBuffer>[] = [];
	const target = new AppendOnlyStreamTarget(
		new WritableStream({ write: (bytes: Uint8Array) => void parts.push(bytes.slice()) }),
	);
	const output = new Output({ format: new Mp4OutputFormat({ fastStart: 'fragmented' }), target });
	const video = await input.getPrimaryVideoTrack();
	const bitrate = video && BITRATE_FACTOR * (await video.computePacketStats()).averageBitrate;
	const conversion = await Conversion.init({
		input,
		output,
		trim: { start: fromS, end: toS },
		copy: false,
		...(bitrate ? { video: { codec: 'avc', bitrate: Math.round(bitrate) } } : {}),
		audio: { codec: 'aac', bitrate: 192_000 },
	});
	if (!conversion.isValid) throw new Error(words.cannotEncode);
	conversion.onProgress = (part) => post({ type: 'progress', part });
	await conversion.execute();
	post({ type: 'file', file: new Blob(parts, { type: 'video/mp4' }) });
}

async function sound(input: Input): Promise<void> {
	const audio = await input.getPrimaryAudioTrack();
	if (!audio) throw new Error(words.noSound);
	if ((await audio.getSampleRate()) !== 48_000) throw new Error(words.otherRate);
	const durationS = await input.computeDuration();
	const sideCount = await audio.getNumberOfChannels();
	const parts: Uint8Array<ArrayBuffer>[] = [];
	let [samples, reportedS] = [0, 0];
	await eachSound(new AudioSampleSink(audio), (sides, atS) => {
		parts.push(toPcm24(sides, 0, sides[0]!.length));
		samples += sides[0]!.length;
		if (atS - reportedS < 1) return;
		reportedS = atS;
		post({ type: 'progress', part: atS / durationS });
	});
	const header = wavHeader(sideCount, samples * sideCount * BYTES_PER_SAMPLE);
	post({ type: 'file', file: new Blob([header, ...parts], { type: 'audio/wav' }) });
}
