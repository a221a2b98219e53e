/** Cameras of the network: how long it takes from what one sees to the program on the desk, and what one costs. */
import { spawn } from 'node:child_process';
import { setTimeout } from 'node:timers/promises';
import type { Page } from '@playwright/test';
import { batchOf, type Command } from '../src/core/show/command.ts';
import { CUT, plainScene, wholeLayer } from '../src/core/show/scenes/scene.ts';
import { plainSource } from '../src/core/show/sources/source.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { offerByWhip } from '../tests/support/whip-camera.ts';
import { EVENT, newContext, withDemo } from './event.ts';
import { median, row, type Row } from './table.ts';

const FLIPS = 20;
const SIZE = { width: 640, height: 360 };
const FPS = 30;
/** So long it stays as it is, and a little more each time: never in step with what is refreshed. */
const STAYS_MS = 700;
const now = () => performance.timeOrigin + performance.now();

export async function benchCameras(): Promise<Row[]> {
	return withDemo(async (demo, browser) => {
		const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
		const { state } = await hub.welcome();
		const tell = (command: Command) => hub.applied(hub.do(command));
		const source = plainSource('network', 'Network camera', { kind: 'network', cameraId: 'bench', could: null });
		const cameras = ['lectern', 'chapel-wide', 'choir-left'];
		await tell(
			batchOf([
				...cameras.map((sourceId) => ({ type: 'removeSource' as const, sourceId })),
				{ type: 'addSource', source },
				{ type: 'addScene', scene: plainScene('network-scene', 'Network camera', [wholeLayer('layer', 'network')]) },
				{ type: 'setTransition', transition: { ...CUT } },
				{ type: 'setNext', sceneId: 'network-scene' },
				{ type: 'take' },
			]),
		);
		expectPicture(state.setup.picture.fps);
		const desk = await (await newContext(browser)).newPage();
		await desk.goto(`${demo.url}/events/${EVENT}`);
		const key = await keyOf(demo);
		const rtmp = await byRtmp(demo, desk, key);
		const whip = await byWhip(demo, desk, key);
		hub.socket.close();
		return [...rows('by RTMP', rtmp, 500), ...rows('by WHIP', whip, 250)];
	});
}

function expectPicture(fps: number): void {
	if (fps !== FPS) throw new Error(`The demo's picture has ${fps} frames a second instead of ${FPS}`);
}

function rows(name: string, delays: readonly number[], most: number): Row[] {
	return [
		row(`from the camera to the program, ${name}, median`, median(delays), 'ms', { limit: { most } }),
		row(`the same, the longest of ${delays.length}`, Math.max(...delays), 'ms'),
	];
}

async function keyOf(demo: Demo): Promise<string> {
	const response = await fetch(`${demo.url}/api/events/${EVENT}/cameras/bench`, {
		method: 'POST',
		headers: { 'Content-Type': 'application/json', Origin: demo.url },
		body: '{"key":"show"}',
	});
	return ((await response.json()) as { key: string }).key;
}

/** Notes in the page when the program becomes bright, by its clock, milliseconds since 1970. */
const WATCH = `() => {
	const canvas = document.querySelector('[aria-label="On air"] canvas, [aria-label="Program"] canvas');
	const small = new OffscreenCanvas(4, 4).getContext('2d', { willReadFrequently: true });
	window.turns = [];
	let bright = false;
	const look = () => {
		small.drawImage(canvas, 0, 0, 4, 4);
		const is = small.getImageData(2, 2, 1, 1).data[1] > 128;
		if (is && !bright) window.turns.push(performance.timeOrigin + performance.now());
		bright = is;
		window.looking = requestAnimationFrame(look);
	};
	cancelAnimationFrame(window.looking);
	look();
}`;

/** @param moments when the camera saw light. @returns how much later each was seen in the program, milliseconds */
async function delaysAt(desk: Page, moments: readonly number[]): Promise<number[]> {
	const turns = await desk.evaluate<number[]>('window.turns');
	const delays = moments.flatMap((moment) => {
		const turn = turns.find((at) => at > moment && at < moment + STAYS_MS + 500);
		return turn === undefined ? [] : [turn - moment];
	});
	if (delays.length < FLIPS / 2) throw new Error(`Only ${delays.length} of ${moments.length} were seen`);
	return delays;
}

const isLive = (desk: Page) =>
	until(
		'the camera',
		async () => (await desk.locator('body').textContent())?.includes('Nothing is wrong') ?? false,
		60_000,
	);

async function byRtmp(demo: Demo, desk: Page, key: string): Promise<number[]> {
	const [dark, bright] = [40, 220].map((luma) => Buffer.alloc(SIZE.width * SIZE.height, luma));
	const camera = spawn(
		'ffmpeg',
		[
			...'-hide_banner -loglevel error -probesize 32 -analyzeduration 0 -fflags nobuffer'.split(' '),
			...`-f rawvideo -pix_fmt gray -s ${SIZE.width}x${SIZE.height} -r ${FPS} -i -`.split(' '),
			...'-c:v libx264 -preset ultrafast -tune zerolatency -pix_fmt yuv420p -g 60 -flush_packets 1 -f flv'.split(' '),
			`rtmp://127.0.0.1:${demo.cameraPort}/camera/${key}`,
		],
		{ stdio: ['pipe', 'inherit', 'inherit'] },
	);
	camera.stdin.on('error', () => {});
	const begun = performance.now();
	let [count, light, turned] = [0, false, 0];
	const moments: number[] = [];
	const timer = setInterval(() => {
		for (; count < ((performance.now() - begun) * FPS) / 1000; count++) {
			camera.stdin.write(light ? bright : dark);
			if (light && turned === 0) moments.push((turned = now()));
		}
	}, 2);
	try {
		await isLive(desk);
		await desk.evaluate(`(${WATCH})()`);
		await setTimeout(3000);
		moments.length = 0;
		for (let i = 0; i < FLIPS; i++) {
			[light, turned] = [true, 0];
			await setTimeout(STAYS_MS + 7 * i);
			light = false;
			await setTimeout(STAYS_MS);
		}
		return await delaysAt(desk, moments);
	} finally {
		clearInterval(timer);
		camera.kill('SIGKILL');
	}
}

async function byWhip(demo: Demo, desk: Page, key: string): Promise<number[]> {
	const context = await desk
		.context()
		.browser()!
		.newContext({ viewport: { width: 400, height: 300 } });
	const camera = await context.newPage();
	await camera.goto(demo.hostUrl);
	await offerByWhip(camera, `${demo.url}/whip`, key, '#282828');
	await isLive(desk);
	await desk.evaluate(`(${WATCH})()`);
	// The browser feels its way up to the rate that it needs.
	await setTimeout(8000);
	const moments: number[] = [];
	for (let i = 0; i < FLIPS; i++) {
		moments.push(await camera.evaluate<number>(`window.paint('#dcdcdc')`));
		await setTimeout(STAYS_MS + 7 * i);
		await camera.evaluate(`window.paint('#282828')`);
		await setTimeout(STAYS_MS);
	}
	const delays = await delaysAt(desk, moments);
	await context.close();
	return delays;
}
