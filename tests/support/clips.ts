/** What tests change of the demo's event: clips whose frames say which they are, and a look without ornament. */
import { readFile } from 'node:fs/promises';
import { expect } from '@playwright/test';
import { Upload } from 'tus-js-client';
import { addingClip } from '../../src/core/media/adding.ts';
import type { Media, MediaAbout } from '../../src/core/media/media.ts';
import { batchOf, type PageCommand, type SingleCommand } from '../../src/core/show/command.ts';
import { plainLook } from '../../src/core/show/event/look.ts';
import { Page } from './app.ts';
import type { Demo } from './demo.ts';
import { run } from './media.ts';

const WIDTH = 640;
const HEIGHT = 360;
const BITS = 8;
/** Where the bars begin. */
const FOOT = 300;

/**
 * Makes a clip of 30 frames a second: grey, with eight bars at its foot, bright for the ones of its frame's number; and a
 * tone of 440 Hz.
 */
export async function makeCoded(file: string, firstNumber: number, count: number): Promise<void> {
	const bar = WIDTH / BITS;
	const bars = `geq=lum='if(lt(Y,${FOOT}),90,if(mod(floor((N+${firstNumber})/pow(2,floor(X/${bar}))),2),235,16))':cb=128:cr=128`;
	const seconds = count / 30;
	await run('ffmpeg', [
		...`-v error -y -f lavfi -i color=s=${WIDTH}x${HEIGHT}:r=30:d=${seconds},format=yuv420p,${bars}`.split(' '),
		...`-f lavfi -i sine=440:r=48000:d=${seconds}`.split(' '),
		// B-frames, as in files that people bring.
		...'-c:v libx264 -preset fast -crf 16 -bf 2 -g 30 -colorspace bt709 -color_primaries bt709 -color_trc bt709 -c:a flac'.split(
			' ',
		),
		...`-strict -2 ${file}`.split(' '),
	]);
}

/** The number that a picture of 64 × 36 shows, and how far its bars are from the middle grey, 0 to 255. */
export function numberOf(luma: Uint8Array): { number: number; clear: number } {
	const bar = 64 / BITS;
	let number = 0;
	let clear = 255;
	for (let bit = 0; bit < BITS; bit++) {
		const level = luma[33 * 64 + bit * bar + bar / 2]!;
		if (level > 125) number += 2 ** bit;
		clear = Math.min(clear, Math.abs(level - 125));
	}
	return { number, clear };
}

/**
 * When number 1 of a coded clip was due, seconds, by whichever of some of its frames came soonest: a busy machine shows some
 * too late and leaves some out, and none comes too soon.
 */
export function beginOf(seen: readonly { time: number; number: number }[], from: number, to: number): number {
	const some = seen.filter(({ number }) => number >= from && number <= to);
	return Math.min(...some.map(({ time, number }) => time - (number - 1) / 30));
}

/**
 * Each frame shows the number that is right at its time. Where a busy machine decodes too little an older one may stand for a
 * moment; a later one is never shown, and in the end all are right.
 * @param stolen part of the machine that others on the same hardware took meanwhile, percent: so many more may be old
 */
export function expectRight(judged: readonly { number: number; right: number }[], stolen: number): void {
	const wrong = judged.filter(({ number, right }) => number !== right);
	expect(wrong.filter(({ number, right }) => number > right)).toEqual([]);
	expect(wrong.length, JSON.stringify(wrong)).toBeLessThanOrEqual((0.03 + stolen / 100) * judged.length);
	expect(judged.slice(-5).filter((each) => wrong.includes(each))).toEqual([]);
}

/** Uploads a film, or a sound, into the library of a demo. */
export async function addMedia(
	demo: Demo,
	file: string,
	name: string,
	lengthMs: number,
	kind: 'video' | 'sound' = 'video',
): Promise<Media> {
	const picture = { width: WIDTH, height: HEIGHT, fps: 30, codec: 'avc1.64001e', alpha: false };
	const about: MediaAbout = {
		kind,
		lengthMs,
		picture: kind === 'video' ? picture : null,
		sound: { codec: 'flac', sampleRate: 48_000, channels: 1 },
	};
	const bytes = await readFile(file);
	await new Promise<void>((resolve, reject) => {
		new Upload(bytes, {
			endpoint: `${demo.url}/api/media/upload`,
			metadata: { filename: `${name}.mp4`, about: JSON.stringify(about), folder: '' },
			retryDelays: null,
			onError: reject,
			onSuccess: () => resolve(),
		}).start();
	});
	const list = (await (await fetch(`${demo.url}/api/media`)).json()) as Media[];
	return list.find((each) => each.name === name)!;
}

/** Cards and names of Lantern Night on flat grounds, where a picture is judged by its colours. */
export async function setPlainLook(demo: Demo): Promise<void> {
	await tell(demo, { type: 'setLook', look: plainLook() });
}

/** Leaves cameras of Lantern Night out: a busy machine has room then for what a test is about. */
export async function leaveOut(demo: Demo, cameras: readonly string[]): Promise<void> {
	await tell(demo, batchOf(cameras.map((sourceId) => ({ type: 'removeSource', sourceId }))));
}

/** Adds files to Lantern Night as one clip or reel under an id, and does other commands with it. */
export async function addClip(demo: Demo, id: string, files: Media[], more: SingleCommand[] = []): Promise<void> {
	await tell(demo, batchOf([...addingClip(id, id, files), ...more]));
}

async function tell(demo: Demo, command: PageCommand): Promise<void> {
	const hub = new Page(Number(new URL(demo.url).port), 'lantern-night');
	await hub.welcome();
	await hub.applied(hub.do(command));
	hub.socket.close();
}
