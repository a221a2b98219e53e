/** Looks at received pictures and listens to received sound, through FFmpeg. */
import { execFile } from 'node:child_process';
import type { Locator } from '@playwright/test';
import FFT from 'fft.js';
import jsQR from 'jsqr';
import { run } from './media.ts';

const WIDTH = 64;
const HEIGHT = 36;

/** A picture of a film, small and grey. */
export interface Seen {
	/** Seconds from the film's beginning. */
	time: number;
	luma: Uint8Array;
}

/** Luma of every frame of a file at 64 × 36, with its time in seconds. */
export async function frames(file: string): Promise<Seen[]> {
	const filter = `scale=${WIDTH}:${HEIGHT}:flags=area,format=gray`;
	const pictures = await raw(['-i', file, '-an', '-vf', filter, '-fps_mode', 'passthrough', '-f', 'rawvideo', '-']);
	const { stdout } = await run(
		'ffprobe',
		['-v', 'error', '-select_streams', 'v', '-show_entries', 'frame=pts_time', '-of', 'csv=p=0', file],
		{ maxBuffer: Infinity },
	);
	// What a frame has beside it makes a line of its own.
	const times = stdout
		.split('\n')
		.map(parseFloat)
		.filter((time) => !Number.isNaN(time));
	return times.map((time, i) => ({ time, luma: pictures.subarray(i * WIDTH * HEIGHT, (i + 1) * WIDTH * HEIGHT) }));
}

/** What a canvas shows now: its luma at 64 × 36. */
export async function lumaOn(canvas: Locator): Promise<Uint8Array> {
	const luma = await canvas.evaluate((element: HTMLCanvasElement) => {
		const small = new OffscreenCanvas(64, 36).getContext('2d')!;
		small.drawImage(element, 0, 0, 64, 36);
		const { data } = small.getImageData(0, 0, 64, 36);
		return Array.from({ length: 64 * 36 }, (_, i) => {
			const [r, g, b] = [data[4 * i]!, data[4 * i + 1]!, data[4 * i + 2]!];
			return Math.round(16 + 0.183 * r + 0.614 * g + 0.062 * b);
		});
	});
	return Uint8Array.from(luma);
}

/** What the QR code in a picture on a page says; undefined without one. */
export async function codeIn(picture: Locator): Promise<string | undefined> {
	const { data, width, height } = await picture.evaluate((element: HTMLImageElement) => {
		const { naturalWidth, naturalHeight } = element;
		const copy = new OffscreenCanvas(naturalWidth, naturalHeight).getContext('2d')!;
		copy.drawImage(element, 0, 0);
		const pixels = copy.getImageData(0, 0, naturalWidth, naturalHeight);
		return { data: Array.from(pixels.data), width: naturalWidth, height: naturalHeight };
	});
	return jsQR(new Uint8ClampedArray(data), width, height)?.data;
}

/** Left channel of a file's sound at 48 kHz, from its first sound on, with the time of that in seconds. */
export async function sound(file: string): Promise<{ startsAt: number; samples: Float32Array }> {
	const bytes = await raw(['-i', file, '-vn', '-af', 'pan=mono|c0=c0', '-ar', '48000', '-f', 'f32le', '-']);
	const { stdout } = await run('ffprobe', [
		'-v',
		'error',
		'-select_streams',
		'a',
		'-show_entries',
		'packet=pts_time',
		'-read_intervals',
		'%+#1',
		'-of',
		'csv=p=0',
		file,
	]);
	return { startsAt: parseFloat(stdout), samples: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2) };
}

/** Level of a tone in samples at 48 kHz, its amplitude, by Goertzel's recurrence. */
export function toneIn(samples: Float32Array, hz: number): number {
	const c = 2 * Math.cos((2 * Math.PI * hz) / 48_000);
	let [s1, s2] = [0, 0];
	for (const sample of samples) [s1, s2] = [sample + c * s1 - s2, s1];
	return (2 * Math.sqrt(s1 * s1 + s2 * s2 - c * s1 * s2)) / samples.length;
}

/** To 8 kHz, with what is high made stronger: voices are told apart by it. */
function whitened(sound: Float32Array): Float32Array {
	const low = Float32Array.from({ length: Math.floor(sound.length / 6) }, (_, i) =>
		sound.subarray(6 * i, 6 * i + 6).reduce((sum, sample) => sum + sample, 0),
	);
	return low.map((sample, i) => sample - 0.95 * (low[i - 1] ?? 0));
}

/** Rate at which sounds are compared. */
const LOW_HZ = 8000;
/** Pieces that are looked for by themselves, and how far they may be from where the others say. */
const PIECE_S = 0.5;
const APART_S = 0.06;

/**
 * How much a sound follows another one that goes round and round: the part of its loud pieces whose next one stands there just
 * behind it as well. Codecs and clocks change each a little, a line that stutters moves what comes after; another voice has
 * its like anywhere, so that two of its pieces hardly ever stand together.
 * @param sound at 48 kHz
 * @param round likewise, as long at least
 * @returns 0 to 1
 */
export function follows(sound: Float32Array, round: Float32Array): number {
	const [heard, played] = [whitened(sound), whitened(round)];
	const length = PIECE_S * LOW_HZ;
	const fft = new FFT(2 ** Math.ceil(Math.log2(played.length + 2 * length)));
	const spectrumOf = (samples: Float32Array) => {
		const padded = new Array<number>(fft.size).fill(0);
		samples.forEach((sample, i) => (padded[i] = sample));
		const out = fft.createComplexArray() as number[];
		fft.realTransform(out, padded);
		fft.completeSpectrum(out);
		return out;
	};
	// What begins near the end goes on at the beginning.
	const closed = Float32Array.from({ length: played.length + length }, (_, i) => played[i % played.length]!);
	const all = spectrumOf(closed);
	const energies = energyBefore(closed);
	const pieces = Array.from({ length: Math.floor(heard.length / length) }, (_, i) => ({
		from: i * length,
		samples: heard.subarray(i * length, (i + 1) * length),
	}));
	const energyOf = (samples: Float32Array) => samples.reduce((sum, sample) => sum + sample * sample, 0);
	const most = Math.max(...pieces.map(({ samples }) => energyOf(samples)));
	const placeOf = (samples: Float32Array) => {
		const own = spectrumOf(samples);
		const product = new Array<number>(all.length);
		for (let i = 0; i < all.length; i += 2) {
			const [a, b, c, d] = [all[i]!, all[i + 1]!, own[i]!, own[i + 1]!];
			product[i] = a * c + b * d;
			product[i + 1] = b * c - a * d;
		}
		const correlation = fft.createComplexArray() as number[];
		fft.inverseTransform(correlation, product);
		let best = { lag: 0, value: 0 };
		for (let lag = 0; lag < played.length; lag++) {
			const there = energies[lag + length]! - energies[lag]!;
			const value = Math.abs(correlation[2 * lag]!) / Math.sqrt(there + 1e-3 * most);
			if (value > best.value) best = { lag, value };
		}
		return best.lag;
	};
	const loud = pieces.filter(({ samples }) => energyOf(samples) > most / 10);
	const offsets = loud.map(({ from, samples }) => (placeOf(samples) - from + played.length) % played.length);
	const isNear = (a: number, b: number) => {
		const apart = Math.abs(a - b);
		return Math.min(apart, played.length - apart) < APART_S * LOW_HZ;
	};
	return offsets.filter((offset, i) => i > 0 && isNear(offset, offsets[i - 1]!)).length / (offsets.length - 1);
}

/** Energy of all samples before each. */
function energyBefore(samples: Float32Array): Float64Array {
	const energies = new Float64Array(samples.length + 1);
	samples.forEach((sample, i) => (energies[i + 1] = energies[i]! + sample * sample));
	return energies;
}

/** What FFmpeg makes of inputs and filters: 32-bit samples at 48 kHz, channels in turn. */
export async function samplesOf(args: string[], channels: number): Promise<Float32Array> {
	const bytes = await raw([...args, '-ac', String(channels), '-ar', '48000', '-f', 'f32le', '-']);
	return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);
}

/** A part of a small picture. */
export function part(
	luma: Uint8Array,
	{ x, y, width, height }: { x: number; y: number; width: number; height: number },
): Uint8Array {
	return Uint8Array.from(
		{ length: width * height },
		(_, i) => luma[(y + Math.floor(i / width)) * WIDTH + x + (i % width)]!,
	);
}

/** Mean difference of two pictures, 0 to 255. */
export function difference(a: Uint8Array, b: Uint8Array): number {
	let sum = 0;
	for (let i = 0; i < a.length; i++) sum += Math.abs(a[i]! - b[i]!);
	return sum / a.length;
}

function raw(args: string[]): Promise<Uint8Array<ArrayBuffer>> {
	return new Promise((resolve, reject) => {
		const options = { encoding: 'buffer' as const, maxBuffer: Infinity };
		execFile('ffmpeg', ['-v', 'error', ...args], options, (error, stdout) => {
			if (error) reject(error);
			else resolve(new Uint8Array(stdout));
		});
	});
}
