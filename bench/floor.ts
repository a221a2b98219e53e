/**
 * The floor that an evening's cost is judged by: the browser's encoder alone on the same pictures at the same pace, and its
 * decoders alone on the same sources. Whatever a desk takes beyond it is the desk's own.
 */
import path from 'node:path';
import type { Browser } from '@playwright/test';
import type { Demo } from '../tests/support/demo.ts';
import { run } from '../tests/support/media.ts';
import { processorSeconds } from './cores.ts';
import { pidOf } from './event.ts';
import type { decodeInTime, encodeInTime, keepPictures } from './floor.page.ts';
import { bundle } from './picture.ts';
import { median } from './table.ts';

const MEASURED_S = 12;
const ROUNDS = 3;
/** Length of what is encoded over and over, seconds: a fade is in it. */
const PART_S = 6;

interface Floor {
	/** Cores. */
	encoder: number;
	decoders: number;
	cores: number;
}

interface What {
	/** Where the stream was written to, and from which second of it on pictures are taken. */
	received: string;
	fromS: number;
	fps: number;
	kbps: number;
	/** Files in standins/venue/media that are decoded meanwhile, one for each time. */
	sources: readonly string[];
}

type InPage = {
	bench: { decodeInTime: typeof decodeInTime; encodeInTime: typeof encodeInTime; keepPictures: typeof keepPictures };
};

/** Measured in a page of its own, of the browser that the desk was in; nothing else is to run in that. */
export async function measureFloor(browser: Browser, demo: Demo, what: What): Promise<Floor> {
	const { received, fromS, fps, kbps, sources } = what;
	const part = path.join(demo.folder, 'floor.mp4');
	await run('ffmpeg', `-v error -y -ss ${fromS} -i ${received} -t ${PART_S} -an -c copy ${part}`.split(' '));
	// Its script is put into a page of the server, whose own rules would not let it in.
	const page = await browser.newPage({ bypassCSP: true });
	for (const [name, file] of [
		['part', part],
		...sources.map((each) => [each, `standins/venue/media/${each}`]),
	] as const)
		await page.route(`**/floor/${name}`, (route) => route.fulfill({ path: file, contentType: 'video/mp4' }));
	await page.goto(`${demo.url}/health`);
	await page.addScriptTag({ content: await bundle('bench/floor.page.ts') });
	const pid = await pidOf(browser);
	const cores = async (during: () => Promise<unknown>) => {
		const [from, startedAt] = [processorSeconds(pid), performance.now()];
		await during();
		return (processorSeconds(pid) - from) / ((performance.now() - startedAt) / 1000);
	};
	await page.evaluate(
		([pace, rate]) => (globalThis as unknown as InPage).bench.keepPictures('/floor/part', pace, rate),
		[fps, kbps] as const,
	);
	await page.waitForTimeout(3000);
	const idle = await cores(() => page.waitForTimeout(5000));
	const [encoding, decoding]: [number[], number[]] = [[], []];
	for (let round = 0; round < ROUNDS; round++) {
		encoding.push(
			await cores(async () => {
				const count = await page.evaluate(
					(seconds) => (globalThis as unknown as InPage).bench.encodeInTime(seconds),
					MEASURED_S,
				);
				if (count < MEASURED_S * fps - 2) throw new Error(`Only ${count} pictures were encoded`);
			}),
		);
		decoding.push(
			await cores(async () => {
				const count = await page.evaluate(
					([urls, seconds]) => (globalThis as unknown as InPage).bench.decodeInTime(urls, seconds),
					[sources.map((each) => `/floor/${each}`), MEASURED_S] as const,
				);
				if (count < MEASURED_S * 29 * sources.length) throw new Error(`Only ${count} pictures were decoded`);
			}),
		);
	}
	await page.close();
	const [encoder, decoders] = [median(encoding) - idle, median(decoding) - idle];
	return { encoder, decoders, cores: encoder + decoders };
}
