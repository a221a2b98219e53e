/**
 * The floor that an evening's cost is judged by: the browser's encoder alone on the same pictures at the same pace, and its
 * decoders alone on the same sources. Whatever a desk takes beyond it is the desk's own.
 */
import path from 'node:path';
import type { Browser, BrowserContext } from '@playwright/test';
import type { Picture } from '../src/core/show/state.ts';
import type { Demo } from '../tests/support/demo.ts';
import { processorSeconds } from './cores.ts';
import { KEPT } from './encoder-watch.ts';
import { pidOf } from './event.ts';
import type { decodeInTime, encodeInTime, readPictures } from './floor.page.ts';
import { bundle } from './picture.ts';
import { median } from './table.ts';

const MEASURED_S = 12;
const ROUNDS = 3;
/** Pictures that are to be kept for it, see encoder-watch.ts: a fade is among them. */
export const FLOOR_PICTURES = 90;

interface Floor {
	/** Cores. */
	encoder: number;
	decoders: number;
	cores: number;
}

interface What {
	/** That of the desk, in which pictures were kept. */
	context: BrowserContext;
	picture: Picture;
	kbps: number;
	/** Files that are decoded meanwhile, one for each time; from standins/venue/media. */
	sources: readonly string[];
}

type InPage = {
	bench: { decodeInTime: typeof decodeInTime; encodeInTime: typeof encodeInTime; readPictures: typeof readPictures };
};

/** Measured in a page of its own, of the browser that the desk was in; nothing else is to run in that. */
export async function measureFloor(browser: Browser, demo: Demo, what: What): Promise<Floor> {
	const { context, picture, kbps, sources } = what;
	const { width, height, fps } = picture;
	const page = await context.newPage();
	const urlOf = (file: string) => `/floor/${path.basename(file)}`;
	for (const each of new Set(sources))
		await page.route(`**${urlOf(each)}`, (route) =>
			route.fulfill({ path: path.join('standins/venue/media', each), contentType: 'video/mp4' }),
		);
	await page.goto(`${demo.url}/health`);
	await page.addScriptTag({ content: await bundle('bench/floor.page.ts') });
	const pid = await pidOf(browser);
	const cores = async (during: () => Promise<unknown>) => {
		const [from, startedAt] = [processorSeconds(pid), performance.now()];
		await during();
		return (processorSeconds(pid) - from) / ((performance.now() - startedAt) / 1000);
	};
	const count = await page.evaluate((all) => (globalThis as unknown as InPage).bench.readPictures(...all), [
		KEPT,
		width,
		height,
		fps,
		kbps,
	] as const);
	if (count < FLOOR_PICTURES) throw new Error(`Only ${count} pictures were kept`);
	await page.waitForTimeout(3000);
	const idle = await cores(() => page.waitForTimeout(5000));
	const [encoding, decoding]: [number[], number[]] = [[], []];
	for (let round = 0; round < ROUNDS; round++) {
		encoding.push(
			await cores(async () => {
				const encoded = await page.evaluate(
					(seconds) => (globalThis as unknown as InPage).bench.encodeInTime(seconds),
					MEASURED_S,
				);
				if (encoded < MEASURED_S * fps - 2) throw new Error(`Only ${encoded} pictures were encoded`);
			}),
		);
		decoding.push(
			await cores(async () => {
				const decoded = await page.evaluate(
					([urls, seconds]) => (globalThis as unknown as InPage).bench.decodeInTime(urls, seconds),
					[sources.map(urlOf), MEASURED_S] as const,
				);
				if (decoded < MEASURED_S * 29 * sources.length) throw new Error(`Only ${decoded} pictures were decoded`);
			}),
		);
	}
	await page.close();
	const [encoder, decoders] = [median(encoding) - idle, median(decoding) - idle];
	return { encoder, decoders, cores: encoder + decoders };
}
