import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import type { Group } from '../../src/core/show/mix/mix.ts';
import { momentOf } from '../../src/core/show/runsheet/clock-time.ts';
import { plainCue } from '../../src/core/show/runsheet/cue.ts';
import type { SourceOf } from '../../src/core/show/sources/source.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { addClip, addMedia, beginOf, expectRight, leaveOut, makeCoded, numberOf } from '../support/clips.ts';
import { startDemo, type Demo } from '../support/demo.ts';
import { decodeAll, run } from '../support/media.ts';
import { difference, frames, sound, type Seen } from '../support/see.ts';
import { MUCH_STOLEN, processorTicks, stolenShare, watchPace } from '../support/stolen-time.ts';

const FPS = 30;
const clipFile = (name: string) => `standins/venue/media/${name}.mp4`;

let demo: Demo;
test.afterEach(() => demo.close());

async function openDesk(page: Page): Promise<void> {
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.getByLabel('On air', { exact: true })).toContainText('Lectern');
	await expect(page.locator('canvas').first()).toBeVisible();
}
async function goOnAir(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await expect(page.locator('[data-light="ridge-channel"]')).toContainText(/[kM]bit\/s/);
	// A busy machine takes a moment until pictures come.
	await until('the first second', async () => (await demo.place('ridge')).pictures > 30);
}
const onAir = (page: Page) => page.getByLabel('On air', { exact: true });
const current = (page: Page) => page.locator('[data-cue][aria-current="step"]');
const choose = (page: Page, name: string) => page.getByRole('button', { name: `Do “${name}” next` }).click();
/** By cuts, so that each frame shows one scene. */
const cut = (page: Page) => page.getByRole('button', { name: 'Cut' }).click();

/** For each frame, which of some pictures it is like most. */
function likest(seen: { luma: Uint8Array }[], pictures: Record<string, Uint8Array[]>): string[] {
	return seen.map(({ luma }) => {
		let [name, least] = ['', Infinity];
		for (const [each, of] of Object.entries(pictures))
			for (const picture of of) {
				const far = difference(luma, picture);
				if (far < least) [name, least] = [each, far];
			}
		return name;
	});
}
/** Which frame of a clip a picture is likest of some around a number, and how much less it is like the one of that number. */
function missAt(clip: readonly Seen[], luma: Uint8Array, number: number): { by: number; likest: number } {
	const from = Math.max(0, number - 15);
	const around = clip.slice(from, number + 16).map((each) => difference(luma, each.luma));
	const least = Math.min(...around);
	return { by: around[number - from]! - least, likest: from + around.indexOf(least) };
}
/** Where hardly anything moves two frames differ by less than what encoding does to them. */
const ALIKE = 0.6;

/**
 * When frame 0 of a clip would have been shown, seconds: the time at which what was received is most like the clip. A busy
 * machine may leave frames out, so each is judged by its own time.
 * @param about when the clip's last frame was shown
 */
function startOf(clip: readonly Seen[], received: readonly Seen[], about: number): number {
	let [found, least] = [0, Infinity];
	for (let shift = -12; shift <= 12; shift++) {
		const start = about - (clip.length - 1 + shift) / FPS;
		const misses = received.flatMap(({ time, luma }) => {
			const number = Math.round((time - start) * FPS);
			return number >= 30 && number < clip.length - 30 ? [difference(luma, clip[number]!.luma)] : [];
		});
		const mean = misses.reduce((sum, each) => sum + each, 0) / misses.length;
		if (misses.length > 0 && mean < least) [found, least] = [start, mean];
	}
	return found;
}
/**
 * Each frame shows what the clip shows at its time, from some frame of it on. Where a busy machine decodes too little, an
 * older one stands for a moment and it catches up by itself; a later one is never shown, and in the end all is right again.
 * @param stolen part of the machine that others on the same hardware took meanwhile, percent: so much more may be old
 */
function expectInPlace(
	clip: readonly Seen[],
	received: readonly Seen[],
	{ start, from = 0, stolen }: { start: number; from?: number; stolen: number },
): void {
	const seen = received.flatMap(({ time, luma }) => {
		const number = Math.round((time - start) * FPS);
		return number >= from && number < clip.length ? [{ number, ...missAt(clip, luma, number) }] : [];
	});
	const wrong = seen.filter(({ by }) => by > ALIKE);
	expect(wrong.filter(({ number, likest }) => likest > number)).toEqual([]);
	const most = 0.2 + (0.8 * stolen) / 100;
	expect(wrong.length, `wrong at ${wrong.map(({ number }) => number)}`).toBeLessThan(most * seen.length);
	expect(seen.slice(-5).filter((each) => wrong.includes(each))).toEqual([]);
}

test('an evening begins by itself: card, countdown, opening clip to its last frame, first camera', async ({ page }) => {
	// The countdown is its last third.
	demo = await startDemo(0.6);
	await leaveOut(demo, ['chapel-wide', 'choir-left']);
	const pace = watchPace();
	await openDesk(page);
	await cut(page);
	await goOnAir(page);
	await expect(current(page)).toContainText('Starting soon');
	await expect(current(page)).toContainText('Countdown', { timeout: 60_000 });
	await expect(current(page)).toContainText('Welcome', { timeout: 60_000 });
	const ticks = processorTicks();
	// Not one certain second, which a busy machine may not look at while it stands.
	await expect(page.getByLabel('Time left of the clip on air')).toContainText(/0:\d\d/);
	await expect(page.getByLabel('Time left of the clip on air')).toContainText(/Leave in [1-4] s/);
	await expect(current(page)).toContainText('Greeting at the lectern');
	const stolen = stolenShare(ticks);
	await expect(onAir(page)).toContainText('Lectern');
	const { pictures } = await demo.place('ridge');
	await until('a second more', async () => (await demo.place('ridge')).pictures > pictures + 30);
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const file = await demo.received('ridge');
	expect(await decodeAll(file)).toBe('');
	const [received, welcome, lectern] = await Promise.all([
		frames(file),
		frames(clipFile('welcome-loop')),
		frames(clipFile('lectern')),
	]);
	const names = likest(received, {
		clip: welcome.filter((_, i) => i % 30 === 15).map(({ luma }) => luma),
		lectern: [lectern[0]!.luma, lectern[150]!.luma],
	});
	// What the lectern's camera shows is only seen behind the clip.
	const lastOfClip = received[names.lastIndexOf('clip')]!.time;
	const start = startOf(welcome, received, lastOfClip);
	expectInPlace(welcome, received, { start, stolen });
	// The frame behind the clip's last one is the camera's, and none before it is.
	const end = start + welcome.length / FPS;
	const isIn = ({ time }: Seen) => time > start - 2.5 / FPS && time < end - 0.5 / FPS;
	expect(received.filter((each, i) => isIn(each) && names[i] === 'lectern' && each.time > end - 1)).toEqual([]);
	expect(received.filter(({ time }, i) => time > end - 0.5 / FPS && names[i] === 'clip')).toEqual([]);
	// The countdown changes with each second before that, so that its zero is the clip's first frame.
	const zero = start - 2 / FPS;
	const changes = Array.from({ length: 8 }, (_, k) => {
		const due = zero - k - 1;
		const first = received.findIndex(({ time }) => time > due - 0.5 / FPS);
		const around = received.flatMap(({ time, luma }, i) =>
			Math.abs(time - due) < 0.4 && i > 0 ? [{ after: i - first, by: difference(luma, received[i - 1]!.luma) }] : [],
		);
		return around.length > 1 ? [around.reduce((most, each) => (each.by > most.by ? each : most)).after] : [];
	}).flat();
	// Never before, unless the machine stood still and the clip began late. Frames are counted by the sound's clock, the
	// countdown by the time of day: where the sound of a busy machine stands still for a moment, all changes before that come
	// later by as much. From one to the next it is a second all the same.
	expect(changes.length).toBeGreaterThan(3);
	const late = pace.worst() > MUCH_STOLEN ? 0.5 * FPS : 0;
	expect(changes.filter((after) => after < -late)).toEqual([]);
	const slips = changes.map((after, k) => after - (changes[k - 1] ?? 0));
	expect(slips.filter((slip) => Math.abs(slip) <= 2).length, `${changes}`).toBeGreaterThan(0.5 * slips.length);
	// The clip's first frame stands a little longer while its sound gets under way; before it comes what was before it.
	const before = received.findLast(({ time }) => time < start - 2.5 / FPS)!;
	expect(difference(before.luma, welcome[0]!.luma)).toBeGreaterThan(3);
	expect(received.filter(isIn).length).toBeGreaterThan((0.7 - (0.5 * stolen) / 100) * welcome.length);
});

/** Rounds of the opening clip. */
const ROUNDS = 4;
/** Asks the hub as a page that makes nothing. */
async function withHub<T>(ask: (hub: HubPage) => Promise<T>): Promise<T> {
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	try {
		return await ask(hub);
	} finally {
		hub.socket.close();
	}
}

test('the desk’s tab is killed in the countdown and in the opening clip: what follows comes in time, and the next one finds its place', async ({
	page,
	context,
}) => {
	demo = await startDemo(0.6);
	// Long enough for a slow machine to open two desks while it lasts.
	await withHub(async (hub) => {
		const { setup } = (await hub.welcome()).state;
		const loop = setup.sources.find(({ id }) => id === 'welcome-loop') as SourceOf<'clip'>;
		const items = Array.from({ length: ROUNDS }, () => loop.items[0]!);
		await hub.applied(hub.do({ type: 'changeSource', source: { ...loop, items } }));
	});
	await openDesk(page);
	await cut(page);
	await goOnAir(page);
	await expect(current(page)).toContainText('Countdown', { timeout: 60_000 });
	await page.close({ runBeforeUnload: false });
	const second = await context.newPage();
	await second.goto(`${demo.url}/events/lantern-night`);
	await expect(current(second)).toContainText('Welcome', { timeout: 60_000 });
	await expect(onAir(second)).toContainText('Welcome loop');
	await second.close({ runBeforeUnload: false });
	const back = await context.newPage();
	await back.goto(`${demo.url}/events/lantern-night`);
	await expect(onAir(back)).toContainText('Welcome loop');
	const { setup } = (await withHub((hub) => hub.welcome())).state;
	const begunAt = momentOf(setup.startsAt, setup.timeZone)!;
	// It has come to where it should be by now, not begun again.
	const timeLeft = back.getByLabel('Time left of the clip on air');
	await expect(timeLeft).toContainText(/0:\d\d/);
	const [, leftS] = /0:(\d\d)/.exec((await timeLeft.textContent())!)!;
	expect(Number(leftS)).toBeLessThan((begunAt + ROUNDS * 12_000 - Date.now()) / 1000 + 3);
	await expect(current(back)).toContainText('Greeting at the lectern', { timeout: 60_000 });
	await expect(onAir(back)).toContainText('Lectern');
	const { live } = (await withHub((hub) => hub.welcome())).state;
	const [welcome, greeting] = live.progress.done.slice(-2);
	expect(welcome!.startedAt).toBe(begunAt);
	expect(greeting!.startedAt - welcome!.startedAt).toBe(ROUNDS * 12_000);

	// Nobody is there at all: the server goes on by itself.
	await choose(back, 'Welcome');
	await back.keyboard.press('Space');
	await expect(onAir(back)).toContainText('Welcome loop');
	await back.close({ runBeforeUnload: false });
	const program = async () => {
		const answer = await fetch(`${demo.url}/health`);
		return ((await answer.json()) as { broadcasts: unknown[] }).broadcasts.length;
	};
	expect(await program()).toBe(1);
	const currentId = async () => (await withHub((hub) => hub.welcome())).state.live.progress.current;
	await expect.poll(currentId, { timeout: 90_000, intervals: [1000] }).toBe('greeting');
	const third = await context.newPage();
	await third.goto(`${demo.url}/events/lantern-night`);
	await expect(current(third)).toContainText('Greeting at the lectern');
	await expect(onAir(third)).toContainText('Lectern');
});

test('two quick presses do one line; the closing clip plays to its last frame and ends the broadcast', async ({
	page,
}) => {
	demo = await startDemo();
	await openDesk(page);
	await cut(page);
	await goOnAir(page);
	await choose(page, 'Talk with Cold Tarn');
	await Promise.all([page.keyboard.press('Space'), page.keyboard.press('Space')]);
	await expect(current(page)).toContainText('Talk with Cold Tarn');
	await expect(page.getByRole('button', { name: 'Go: Film: Season on the fell' })).toBeVisible();
	await choose(page, 'Closing');
	const ticks = processorTicks();
	await page.keyboard.press('Space');
	await expect(page.getByText(/the broadcast ends in 0:1\d/)).toBeVisible();
	await expect(page.getByText('Off air')).toBeVisible();
	const stolen = stolenShare(ticks);
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const file = await demo.received('ridge');
	expect(await decodeAll(file)).toBe('');
	const [received, closing] = await Promise.all([frames(file), frames(clipFile('closing'))]);
	// Nothing comes behind the clip's last frame: it is the last that viewers get, but for what a busy machine leaves out.
	const start = startOf(closing, received, received.at(-1)!.time);
	expectInPlace(closing, received, { start, from: 30, stolen });
	const left = start + (closing.length - 1) / FPS - received.at(-1)!.time;
	expect(left).toBeGreaterThan(-1.5 / FPS);
	expect(left).toBeLessThan(0.2);

	// What was done of the sheet is in the report, and names the chapters of the recording.
	await page.getByRole('link', { name: 'The report', exact: true }).click();
	const ran = page.getByRole('region', { name: 'The run sheet as it ran' });
	await expect(ran.getByRole('row').nth(1)).toContainText(/Talk with Cold Tarn.*19:11:\d\d/);
	await expect(ran.getByRole('row').nth(2)).toContainText(/Closing.*0:15/);
	const recordings = await page.request.get(`${demo.url}/events/lantern-night/recordings`);
	const [, id] = /recordings\/([\w-]+)\/chapters/.exec(await recordings.text()) ?? [];
	const chapters = await page.request.get(`${demo.url}/api/events/lantern-night/recordings/${id}/chapters`);
	expect(await chapters.text()).toMatch(/Talk with Cold Tarn\n\n.*\nClosing\n/s);
});

test('a reel goes from one file to the next, and to what follows it, without a frame or a moment between', async ({
	page,
}) => {
	demo = await startDemo();
	const [first, second] = ['first', 'second'].map((name) => path.join(demo.folder, `${name}.mp4`)) as [string, string];
	await makeCoded(first, 1, 75);
	await makeCoded(second, 129, 60);
	const files = [await addMedia(demo, first, 'First', 2500), await addMedia(demo, second, 'Second', 2000)];
	const cue = {
		...plainCue('reel-cue', 'Reel'),
		sceneId: 'reel-scene',
		follow: { by: 'clip' as const, sourceId: 'reel' },
	};
	const after = { ...plainCue('after-cue', 'Welcome behind the reel'), sceneId: 'welcome-loop-scene' };
	await addClip(demo, 'reel', files, [
		{ type: 'addCue', cue, at: 0 },
		{ type: 'addCue', cue: after, at: 1 },
		// What comes from the console would be heard beside the reel.
		...['speech', 'music', 'audience'].map((group) => ({
			type: 'setGroupMute' as const,
			group: group as Group,
			muted: true,
		})),
	]);
	await openDesk(page);
	await cut(page);
	await goOnAir(page);
	const ticks = processorTicks();
	const { pictures } = await demo.place('ridge');
	await until('two seconds', async () => (await demo.place('ridge')).pictures > pictures + 60);
	await page.keyboard.press('Space');
	await expect(onAir(page)).toContainText('Welcome loop');
	await expect(page.getByLabel('Time left of the clip on air')).toContainText(/0:(10|0\d)/);
	const stolen = stolenShare(ticks);
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');

	const file = await demo.received('ridge');
	const [received, welcome] = await Promise.all([frames(file), frames(clipFile('welcome-loop'))]);
	// The first frame stands for two more, while its sound gets under way.
	const wanted = [
		1,
		1,
		...Array.from({ length: 75 }, (_, n) => n + 1),
		...Array.from({ length: 60 }, (_, n) => n + 129),
	];
	const shown = received.map(({ time, luma }) => {
		const { number, clear } = numberOf(luma);
		return { time, number: clear > 40 ? number : 0 };
	});
	// A busy machine may leave frames out, so each is judged by its own time.
	const begin = beginOf(shown, 30, 75) - 2 / FPS;
	const during = shown.filter(({ time }) => time > begin - 0.5 / FPS && time < begin + (wanted.length - 0.5) / FPS);
	const judged = during.map(({ time, number }) => ({ number, right: wanted[Math.round((time - begin) * FPS)]! }));
	expectRight(judged, stolen);
	expect(during.length).toBeGreaterThan(0.7 * wanted.length);
	// Where it starts with a frame that is made late, the first one stands for longer.
	const early = shown.filter(({ time, number }) => number === 1 && time > begin - 5.5 / FPS && time < begin);
	expect(shown.filter((each) => ![...during, ...early].includes(each) && each.number > 0)).toEqual([]);
	const behind = received.find(({ time }) => time > begin + (wanted.length - 0.5) / FPS)!;
	expect(difference(behind.luma, welcome[0]!.luma)).toBeLessThan(4);
	// From its first moment to its last the tone is heard: no part of 5 ms is softer than half of the others.
	const { startsAt, samples } = await sound(file);
	const from = Math.round((begin + 2 / FPS - startsAt) * 48_000);
	const levels = Array.from({ length: (4500 - 40) / 5 }, (_, i) => {
		const part = samples.subarray(from + (20 + 5 * i) * 48, from + (25 + 5 * i) * 48);
		return Math.sqrt(part.reduce((sum, value) => sum + value * value, 0) / part.length);
	});
	const middle = levels.toSorted((a, b) => a - b)[levels.length >> 1]!;
	expect(middle).toBeGreaterThan(0.01);
	expect(levels.map((level, i) => [i * 5, level]).filter(([, level]) => level! < middle / 2)).toEqual([]);
	// And it begins with its picture: within a frame nothing was heard before it, and it is heard behind it.
	const rms = (fromMs: number, toMs: number) => {
		const part = samples.subarray(from + fromMs * 48, from + toMs * 48);
		return Math.sqrt(part.reduce((sum, value) => sum + value * value, 0) / part.length);
	};
	expect(rms(-60, -15)).toBeLessThan(middle / 10);
	expect(rms(15, 40)).toBeGreaterThan(middle / 2);
});

test('a file is looked into before it is uploaded, goes on after a broken line, and is played as a clip', async ({
	page,
	context,
}) => {
	demo = await startDemo();
	const odd = path.join(demo.folder, 'old-film.mp4');
	await run('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=d=1:s=320x180', '-c:v', 'mpeg4', odd]);
	const film = path.join(demo.folder, 'Night walk.mp4');
	// Quiet, and black for two seconds at its beginning.
	const filter =
		'color=black:s=640x360:d=2:r=25[b];testsrc2=s=640x360:d=4:r=25[t];[b][t]concat=n=2:v=1[v];aevalsrc=0.05*sin(2*PI*330*t)*gt(t\\,2):d=6:s=48000[a]';
	const coding =
		'-map [v] -map [a] -c:v libx264 -pix_fmt yuv420p -b:v 40M -minrate 40M -maxrate 40M -bufsize 8M -x264-params nal-hrd=cbr -c:a aac';
	await run('ffmpeg', ['-v', 'error', '-filter_complex', filter, ...coding.split(' '), film]);

	await page.goto(`${demo.url}/media`);
	await expect(page.locator('[data-media="closing"]')).toContainText('0:15');
	await page.locator('input[type=file]').setInputFiles(odd);
	await expect(page.getByRole('alert')).toContainText('The picture of old-film.mp4 cannot be decoded here (mp4v');
	await page.getByRole('button', { name: 'Stop uploading old-film.mp4' }).click();

	// The line breaks with the first piece on its way, and the page is loaded again.
	let pieces = 0;
	await page.route('**/api/media/upload/*', (route) => (++pieces > 1 ? route.abort() : route.continue()));
	await page.locator('input[type=file]').setInputFiles(film);
	await expect(page.locator('[data-sending="Night walk.mp4"]')).toContainText('no connection, tries again');
	await page.reload();
	await page.unroute('**/api/media/upload/*');
	const sent: string[] = [];
	page.on('request', (request) => {
		if (request.method() === 'PATCH' && request.url().includes('/upload/'))
			sent.push(request.headers()['upload-offset'] ?? '');
	});
	await page.locator('input[type=file]').setInputFiles(film);
	const card = page.locator('[data-media]').filter({ has: page.getByRole('textbox', { name: 'Name of Night walk' }) });
	await expect(card).toContainText('0:06');
	await expect(card).toContainText(/−?-?\d+(\.\d)? LUFS/);
	expect(Number(sent[0])).toBeGreaterThan(0);
	await expect(card).toContainText('Proposed');
	await card.getByRole('button', { name: 'Accept' }).click();
	await expect(card).not.toContainText('Proposed');

	const desk = await context.newPage();
	await openDesk(desk);
	await desk.getByRole('button', { name: 'Sources, destinations' }).click();
	await desk.getByRole('button', { name: 'Add a source' }).click();
	await desk.getByRole('button', { name: 'Add Night walk' }).click();
	await expect(desk.locator('[data-source]').filter({ hasText: 'Night walk' })).toContainText('640 × 360');
	await desk.getByRole('button', { name: /Put in Next: Night walk/ }).click();
	await desk.keyboard.press('Enter');
	await expect(desk.getByLabel('Time left of the clip on air')).toContainText(/0:0\d|Leave/);
	await page.reload();
	await expect(card).toContainText('Used in Lantern Night');
});
