/** Looks at received pictures and listens to received sound, through FFmpeg. */
import { execFile } from 'node:child_process';
import { run } from './media.ts';

const WIDTH = 64;
const HEIGHT = 36;

/** Luma of every frame of a file at 64 × 36, with its time in seconds. */
export async function frames(file: string): Promise<{ time: number; luma: Uint8Array }[]> {
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
