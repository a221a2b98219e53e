import { execFile } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { chromium } from '@playwright/test';
import { build } from 'vite';
import { CHROMIUM } from '../playwright.config.ts';
import type { Timings, timeKernels } from './picture.page.ts';
import { row, type Row } from './table.ts';

const run = promisify(execFile);
const FRAMES = 120;

/** Kernels in Chromium against FFmpeg's filters doing the same on one thread, in the same run. */
export async function benchPicture(): Promise<Row[]> {
	const rows: Row[] = [];
	const kernels = [...(await readFile('src/core/picture/kernels/build/kernels-relaxed.wasm'))];
	const script = await bundle('bench/picture.page.ts');
	const browser = await chromium.launch(CHROMIUM);
	for (const [lines, size, from] of [
		['720p', { width: 1280, height: 720 }, { width: 1920, height: 1080 }],
		['1080p', { width: 1920, height: 1080 }, { width: 1280, height: 720 }],
	] as const) {
		const page = await browser.newPage();
		await page.addScriptTag({ content: script });
		const timings: Timings = await page.evaluate(
			([bytes, to, source]) =>
				(globalThis as unknown as { timeKernels: typeof timeKernels }).timeKernels(new Uint8Array(bytes), to, source),
			[kernels, size, from] as const,
		);
		await page.close();
		const [a, b, other] = [noise(size), noise(size), noise(from)];
		const blend = await filter(
			[a, b],
			'[0][1]blend=all_mode=normal:all_opacity=0.39',
			'[0]null[x];[1]nullsink;[x]null',
		);
		const scale = await filter([other], `[0]scale=${size.width}:${size.height}:flags=bilinear`, '[0]null');
		const small = { width: Math.round((size.width * 0.3) / 2) * 2, height: Math.round((size.height * 0.3) / 2) * 2 };
		const plate = { width: 2 * Math.round(size.width / 6), height: 2 * Math.round(size.height / 14) };
		const key = await filter(
			[a, b],
			'[0]chromakey=0x00b140:0.25:0.15[k];[1][k]overlay',
			'[1]null[x];[0]nullsink;[x]null',
		);
		const blur = await filter(
			[a],
			`[0]crop=${size.width / 2}:${size.height / 2}:0:0,boxblur=20:3`,
			`[0]crop=${size.width / 2}:${size.height / 2}:0:0`,
		);
		const inset = await filter(
			[a, other],
			`[1]scale=${small.width}:${small.height}:flags=bilinear[s];[0][s]overlay=64:36`,
			'[0]null[x];[1]nullsink;[x]null',
		);
		const name = `color=black@0.8:s=${plate.width}x${plate.height}:r=30,format=yuva420p`;
		const withName = await filter(
			[a, other, name],
			`[1]scale=${small.width}:${small.height}:flags=bilinear[s];[0][s]overlay=64:36[p];[p][2]overlay=64:400`,
			'[0]null[x];[1]nullsink;[2]nullsink;[x]null',
		);
		rows.push(
			row(`chroma key ${lines} (FFmpeg chromakey and overlay)`, timings.chromaKey, 'ms', {
				yardstick: key,
				limit: { most: 0.02 },
			}),
			row(`blur patch of a quarter of ${lines} (FFmpeg boxblur)`, timings.blurQuarter, 'ms', {
				yardstick: blur,
				limit: { most: 0.2 },
			}),
			row(`picture in picture ${lines} (FFmpeg scale and overlay)`, timings.pictureInPicture, 'ms', {
				yardstick: inset,
				limit: { most: 0.7 },
			}),
			row(`two layers and a lower third ${lines} (FFmpeg the same)`, timings.lowerThird, 'ms', {
				yardstick: withName,
				limit: { most: 0.15 },
			}),
			row(`100 scenes, 40 sources defined (6 and 4), ${lines}`, timings.manyDefined, 'ms', {
				yardstick: timings.fewDefined,
				limit: { most: 1.15 },
			}),
			row(`mix ${lines} (FFmpeg blend)`, timings.mix, 'ms', { yardstick: blend, limit: { most: 0.08 } }),
			row(`mix ${lines} (memory copy)`, timings.mix, 'ms', { yardstick: timings.copy, limit: { most: 2 } }),
			row(`scale from ${from.height} to ${size.height} lines (FFmpeg bilinear)`, timings.scale, 'ms', {
				yardstick: scale,
				limit: { most: 1.5 },
			}),
			row(`fill ${lines}`, timings.fill, 'ms'),
			row(`monitor of ${lines} at 320 × 180, as RGBA`, timings.monitor, 'ms'),
		);
	}
	await browser.close();
	return rows;
}

const noise = ({ width, height }: { width: number; height: number }) =>
	`color=gray:s=${width}x${height}:r=30,noise=alls=60,format=yuv420p`;

/**
 * Milliseconds a frame that a filter takes: the frames are made and kept in memory first, then filtered; what the
 * same run takes without the filter is taken off.
 */
async function filter(inputs: string[], graph: string, without: string): Promise<number> {
	const time = async (filters: string) => {
		// One frame of noise, repeated: making it costs nothing worth counting.
		const sources = inputs.flatMap((input) => [
			'-f',
			'lavfi',
			'-i',
			`${input},loop=loop=-1:size=1,trim=end_frame=${FRAMES}`,
		]);
		const args = ['-v', 'error', '-benchmark', '-filter_threads', '1', '-filter_complex_threads', '1', '-threads', '1'];
		const { stderr } = await run('ffmpeg', [
			...args.slice(0, 2),
			'-loglevel',
			'info',
			...args.slice(2),
			...sources,
			'-filter_complex',
			filters,
			'-f',
			'null',
			'-',
		]);
		return Number(/utime=([\d.]+)s/.exec(stderr)![1]) * 1000;
	};
	const best = async (filters: string) => Math.min(await time(filters), await time(filters), await time(filters));
	return ((await best(graph)) - (await best(without))) / FRAMES;
}

/** One script that a page can be given. */
export async function bundle(entry: string): Promise<string> {
	const built = await build({
		configFile: false,
		logLevel: 'error',
		build: { write: false, minify: true, target: 'es2023', lib: { entry, formats: ['iife'], name: 'bench' } },
	});
	const [first] = Array.isArray(built) ? built : [built];
	if (!first || !('output' in first)) throw new Error(`${entry} was not bundled`);
	return first.output[0].code;
}
