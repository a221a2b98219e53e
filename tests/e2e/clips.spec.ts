import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { makingBed } from '../../src/core/media/adding.ts';
import type { Media } from '../../src/core/media/media.ts';
import { batchOf, type SingleCommand } from '../../src/core/show/command.ts';
import { CUT, plainScene, wholeLayer } from '../../src/core/show/scenes/scene.ts';
import { plainSource, type SourceOf } from '../../src/core/show/sources/source.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { addClip, addMedia, beginOf, expectRight, makeCoded, numberOf } from '../support/clips.ts';
import { startDemo, type Demo } from '../support/demo.ts';
import { decodeAll, run } from '../support/media.ts';
import { frames, sound, toneIn } from '../support/see.ts';
import { processorTicks, stolenShare } from '../support/stolen-time.ts';

const FPS = 30;
/** The small pictures that are looked at. */
const WIDTH = 64;

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(() => demo.close());

/** Tones that tell sounds apart. */
const [CLIP_HZ, BED_HZ] = [3500, 2500];

const ffmpeg = (args: string) => run('ffmpeg', ['-v', 'error', '-y', ...args.split(' ')]);
const BT709 = '-pix_fmt yuv420p -colorspace bt709 -color_primaries bt709 -color_trc bt709';

/** Half of it white and half black, or transparent; for three seconds. */
async function makeFiles(file: (name: string) => string): Promise<void> {
	const half = (of: string, size: string) =>
		`-f lavfi -i color=white:s=${size}:r=30:d=3,format=gbrp,drawbox=${of}:color=black:t=fill`;
	await Promise.all([
		// White at the left, transparent at the right, with a tone.
		ffmpeg(
			`-f lavfi -i color=white:s=640x360:r=30:d=3,format=yuva420p,geq=lum='235':cb=128:cr=128:a='if(lt(X,320),255,0)' -f lavfi -i sine=${CLIP_HZ}:r=48000:d=3 -c:v libvpx-vp9 -pix_fmt yuva420p -b:v 1M -deadline realtime -cpu-used 8 -c:a libopus ${file('alpha.webm')}`,
		),
		ffmpeg(`-f lavfi -i sine=${BED_HZ}:r=44100:d=2 -c:a libmp3lame ${file('bed.mp3')}`),
		// White above in the file, which is to be shown turned by a quarter.
		ffmpeg(`${half('y=180:h=180', '640x360')} -c:v libx264 ${BT709} ${file('upright.mp4')}`).then(() =>
			ffmpeg(`-i ${file('upright.mp4')} -c copy -metadata:s:v:0 rotate=90 ${file('turned.mp4')}`),
		),
		// White all over, in pixels that are wider than high.
		ffmpeg(
			`-f lavfi -i color=white:s=720x576:r=30:d=3 -vf setsar=64/45 -c:v libx264 ${BT709} ${file('wide-pixels.mp4')}`,
		),
		// White at the left, four times as many pixels as the program has at most.
		ffmpeg(`${half('x=1920:w=1920', '3840x2160')} -c:v libx264 -preset ultrafast ${BT709} ${file('large.mp4')}`),
		// Each frame is another; the second half comes at half the rate.
		makeCoded(file('even.mp4'), 1, 90).then(() =>
			ffmpeg(
				`-i ${file('even.mp4')} -vf setpts='if(lt(N,45),N,45+2*(N-45))/30/TB' -fps_mode vfr -an -c:v libx264 -crf 16 ${BT709} ${file('uneven.mp4')}`,
			),
		),
	]);
}

test('files of every kind as viewers get them: transparent, turned, wide pixels, 4K, uneven frames, a bed of music', async ({
	page,
}) => {
	test.slow();
	const file = (name: string) => path.join(demo.folder, name);
	await makeFiles(file);
	const grey: SingleCommand[] = [
		{ type: 'addSource', source: plainSource('grey', 'Grey', { kind: 'colour', colour: '#808080' }) },
		{
			type: 'addScene',
			scene: {
				...plainScene('over-grey', 'Over grey', [wholeLayer('clip', 'alpha')]),
				background: { is: 'own', sourceId: 'grey' },
			},
		},
	];
	for (const [id, name, lengthMs] of [
		['alpha', 'alpha.webm', 3000],
		['turned', 'turned.mp4', 3000],
		['wide-pixels', 'wide-pixels.mp4', 3000],
		['large', 'large.mp4', 3000],
		['uneven', 'uneven.mp4', 4500],
	] as const)
		await addClip(demo, id, [await addMedia(demo, file(name), id, lengthMs)], id === 'alpha' ? grey : []);

	await addClip(demo, 'bed', [await addMedia(demo, file('bed.mp3'), 'bed', 2000, 'sound')]);
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	const { setup } = (await hub.welcome()).state;
	const bed = setup.sources.find(({ id }) => id === 'bed') as SourceOf<'soundClip'>;
	await hub.applied(hub.do(batchOf(makingBed(bed, setup.channels, true))));
	const take = (sceneId: string) => hub.applied(hub.do({ type: 'take', sceneId, transition: { ...CUT } }));
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.getByLabel('On air', { exact: true })).toContainText('Lectern');
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await expect(page.locator('[data-light="ridge-channel"]')).toContainText(/[kM]bit\/s/);
	const scenes = ['starting-soon', 'over-grey', 'turned-scene', 'wide-pixels-scene', 'large-scene', 'uneven-scene'];
	const from = new Map<string, number>();
	const ticks = processorTicks();
	for (const scene of scenes) {
		// In Next it gets ready, as in an evening.
		await hub.applied(hub.do({ type: 'setNext', sceneId: scene }));
		const { soundMs } = await demo.place('ridge');
		await until('a moment', async () => (await demo.place('ridge')).soundMs > soundMs + 2000);
		await take(scene);
		const { soundMs: taken } = await demo.place('ridge');
		from.set(scene, taken / 1000);
		const lastsMs = { 'uneven-scene': 6000, 'starting-soon': 3500 }[scene] ?? 2500;
		await until('its end', async () => (await demo.place('ridge')).soundMs > taken + lastsMs);
	}
	const stolen = stolenShare(ticks);
	await hub.applied(hub.do({ type: 'endBroadcast' }));
	hub.socket.close();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');
	const received = await demo.received('ridge');
	expect(await decodeAll(received)).toBe('');
	const seen = await frames(received);
	/** What is seen well after a take, at a place in parts of the picture. */
	const at = (scene: string, x: number, y: number) => {
		const taken = from.get(scene)!;
		const { luma } = seen.find(({ time }) => time > taken + 1.5)!;
		return luma[Math.floor(y * 36) * WIDTH + Math.floor(x * WIDTH)]!;
	};
	const [white, middle, black] = [255, 128, 0];
	const near = (value: number, wanted: number, what: string) => expect(Math.abs(value - wanted), what).toBeLessThan(14);
	near(at('over-grey', 0.25, 0.5), white, 'transparent: what is not');
	near(at('over-grey', 0.75, 0.5), middle, 'transparent: what is behind it');
	// Turned by a quarter it is upright: white at one side of a narrow picture, with black beside it.
	near(at('turned-scene', 0.1, 0.5), black, 'turned: beside it');
	near(at('turned-scene', 0.42, 0.5), white, 'turned: the half that was above');
	near(at('turned-scene', 0.58, 0.5), black, 'turned: the half that was below');
	near(at('wide-pixels-scene', 0.03, 0.5), white, 'wide pixels: at the edge');
	near(at('wide-pixels-scene', 0.97, 0.5), white, 'wide pixels: at the other edge');
	near(at('large-scene', 0.25, 0.5), white, '4K: at the left');
	near(at('large-scene', 0.75, 0.5), black, '4K: at the right');

	const { startsAt, samples } = await sound(received);
	/** Level of a tone during a second that begins so long after a take. */
	const heard = (scene: string, after: number, hz: number) => {
		const begin = Math.round((from.get(scene)! + after - startsAt) * 48_000);
		return toneIn(samples.subarray(begin, begin + 48_000), hz);
	};
	expect(heard('over-grey', 1, CLIP_HZ), 'its own sound').toBeGreaterThan(0.03);
	expect(heard('starting-soon', 2, CLIP_HZ), 'before it').toBeLessThan(0.002);
	expect(heard('starting-soon', 2, BED_HZ), 'the bed under a card').toBeGreaterThan(0.004);
	expect(heard('turned-scene', 0, BED_HZ), 'the bed under a program').toBeLessThan(0.001);

	const coded = seen
		.filter(({ time }) => time > from.get('uneven-scene')! - 0.5)
		.map(({ time, luma }) => ({ time, ...numberOf(luma) }))
		.filter(({ clear }) => clear > 40);
	// What was shown before looks like number 15.
	const begin = beginOf(coded, 20, 44);
	const wanted = (time: number) => {
		const frame = Math.round((time - begin) * FPS);
		return frame < 45 ? frame + 1 : 46 + Math.floor((frame - 45) / 2);
	};
	const middleOf = coded.filter(({ time }) => time > begin + 0.2 && time < begin + 4.3);
	// A busy machine leaves frames out; those that it shows are the right ones.
	expect(middleOf.length).toBeGreaterThan(30);
	expectRight(
		middleOf.map(({ time, number }) => ({ number, right: wanted(time) })),
		stolen,
	);
});

test('damaged films end in the library or in a sentence, and none that is played takes the program with it', async ({
	page,
}) => {
	test.slow();
	const faults: Error[] = [];
	page.on('pageerror', (fault) => faults.push(fault));
	const film = path.join(demo.folder, 'film.mp4');
	await makeCoded(film, 1, 60);
	const right = await readFile(film);
	// Always the same ones: damaged in what says where things are, in what is played, all over, or cut.
	const damaged = (name: string, seed: number, from: number, to: number, cut = right.length) => {
		const bytes = Buffer.from(right.subarray(0, cut));
		for (let i = 0, at = seed; i < 40; i++) {
			at = (Math.imul(at, 1664525) + 1013904223) >>> 0;
			const place = from + (at % Math.max(1, to - from));
			if (place < bytes.length) bytes[place] = at >> 8;
		}
		return { name, mimeType: 'video/mp4', buffer: bytes };
	};
	const boxes = right.indexOf('moov');
	const files = [
		damaged('Cut.mp4', 1, 0, 0, right.length >> 1),
		...[2, 3, 4].map((seed) => damaged(`Boxes ${seed}.mp4`, seed, boxes, right.length)),
		...[5, 6, 7].map((seed) => damaged(`Frames ${seed}.mp4`, seed, 48, boxes)),
		damaged('All over.mp4', 8, 0, right.length),
	];
	await page.goto(`${demo.url}/media`);
	await page.locator('input[type=file]').setInputFiles(files);
	await until('an end of each', async () => {
		const sending = await page.locator('[data-sending]').count();
		return sending > 0 && sending === (await page.getByRole('alert').count());
	});
	const said = (await page.getByRole('alert').allTextContents()).map((text) => text.trim());
	for (const each of said) {
		expect(each).toMatch(/(Cut|Boxes \d|Frames \d|All over)\.mp4.*\.$/);
		expect(each).not.toMatch(/Error|undefined/);
	}
	const list = (await (await fetch(`${demo.url}/api/media`)).json()) as Media[];
	const taken = list.filter(({ name }) => files.some((file) => file.name === `${name}.mp4`));
	expect(taken.length).toBeGreaterThan(2);

	for (const [i, media] of taken.entries()) await addClip(demo, `damaged-${i}`, [media]);
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	await hub.welcome();
	await page.goto(`${demo.url}/events/lantern-night`);
	await until('an engine', () => hub.status?.engine);
	await hub.applied(hub.do({ type: 'startBroadcast', broadcastId: 'damaged' }));
	const pictures = async () => (await demo.place('ridge')).pictures;
	for (const i of taken.keys()) {
		await hub.applied(hub.do({ type: 'take', sceneId: `damaged-${i}-scene`, transition: { ...CUT } }));
		const before = await pictures();
		await until('pictures', async () => (await pictures()) > before + 60);
	}
	expect(hub.status).toMatchObject({ receiving: true, holdingSince: null });
	await hub.applied(hub.do({ type: 'endBroadcast' }));
	hub.socket.close();
	expect(faults).toEqual([]);
});
