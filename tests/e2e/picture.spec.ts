import { readFileSync, statSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '@playwright/test';
import type { Rect } from '../../src/core/picture/geometry.ts';
import { accessible } from '../support/accessible.ts';
import { Page as HubPage, until } from '../support/app.ts';
import { setPlainLook } from '../support/clips.ts';
import { showSetUp, startDemo, type Demo } from '../support/demo.ts';
import { run } from '../support/media.ts';
import { difference, frames, part } from '../support/see.ts';

const NOISE = 'nullsrc=size=1280x800,geq=random(1)*255:random(2)*255:random(3)*255';

/** Until a change of the show is in the picture, on a machine that has much to do. */
const SOON_MS = 30_000;

let demo: Demo;
test.beforeAll(async () => {
	demo = await startDemo();
});
test.afterAll(() => demo.close());

async function openDesk(page: Page): Promise<void> {
	await showSetUp(page);
	page.on('dialog', (dialog) => void dialog.accept());
	await page.goto(`${demo.url}/events/lantern-night`);
	await expect(page.locator('[data-source="lectern"]')).toContainText('1280 × 720');
}
/** Pictures that the host had got before this broadcast. */
let before = 0;
async function goOnAir(page: Page): Promise<void> {
	before = (await demo.place('ridge')).pictures;
	await page.getByRole('button', { name: 'Go on air' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await expect(page.locator('[data-light="ridge-channel"]')).toContainText(/[kM]bit\/s/);
}
async function endBroadcast(page: Page): Promise<void> {
	await page.getByRole('button', { name: 'End the broadcast' }).click();
	await page.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');
}
/**
 * Number in its stream of a picture that the host got when what was done before has long been seen: pictures made before it may
 * still be on their way, on a busy machine for more than two seconds.
 */
async function seenBy(): Promise<number> {
	const { pictures } = await demo.place('ridge');
	await until('seconds of pictures', async () => (await demo.place('ridge')).pictures > pictures + 130);
	return pictures - before + 120;
}
/** Where a box begins on its picture, in parts of the picture's width: what is around both may move. */
const leftOf = (box: Locator) =>
	box.evaluate((element) => {
		const [own, picture] = [element, element.parentElement!].map((each) => each.getBoundingClientRect());
		return (own!.x - picture!.x) / picture!.width;
	});
/** Drags a box by its middle, by a distance in pixels. */
async function dragged(page: Page, box: Locator, dx: number, dy: number): Promise<void> {
	await until('its place', async () => ((await box.boundingBox())?.width ?? 0) > 30);
	const { x, y, width, height } = (await box.boundingBox())!;
	const [fromX, fromY] = [x + width / 2, y + height / 2];
	await page.mouse.move(fromX, fromY);
	await page.mouse.down();
	await page.mouse.move(fromX + dx, fromY + dy, { steps: 10 });
	await page.mouse.up();
}
const onAir = (page: Page) => page.getByLabel('On air', { exact: true });
const next = (page: Page) => page.getByLabel('Next', { exact: true });
const wall = (page: Page) => page.getByLabel('Wall');

/** Pixels of a part of a monitor as a person sees it. */
async function pixelsOf(monitor: Locator, area: Rect): Promise<{ width: number; height: number; rgba: number[] }> {
	return monitor
		.locator('canvas')
		.first()
		.evaluate((element: HTMLCanvasElement, { x, y, width, height }) => {
			const copy = new OffscreenCanvas(element.width, element.height).getContext('2d')!;
			copy.drawImage(element, 0, 0);
			const size = { width: Math.max(1, width * element.width) | 0, height: Math.max(1, height * element.height) | 0 };
			const part = copy.getImageData(x * element.width, y * element.height, size.width, size.height);
			return { ...size, rgba: Array.from(part.data) };
		}, area);
}

test('a scene made by hand, a framing, a name, a patch, and the hand lever, as viewers get them', async ({ page }) => {
	await setPlainLook(demo);
	const hub = new HubPage(Number(new URL(demo.url).port), 'lantern-night');
	const { state } = await hub.welcome();
	// A busy machine may need longer than a name stays by itself.
	const overlay = state.setup.overlays.find(({ id }) => id === 'name')!;
	await hub.applied(hub.do({ type: 'changeOverlay', overlay: { ...overlay, showMs: 0 } }));
	await openDesk(page);
	await page.getByRole('button', { name: 'Cut', exact: true }).click();
	await page.keyboard.press('Shift+Digit1');
	await goOnAir(page);
	const lectern = await seenBy();

	// A name is shown by one key and hidden by the same.
	await page.keyboard.press('l');
	await expect(page.getByRole('button', { name: 'Hide Maren Oakshaw' })).toBeVisible();
	const named = await seenBy();
	// Next shows it too, since it will stay through a take: the amber bar at its left.
	const { width, rgba } = await pixelsOf(next(page), { x: 0, y: 0.86, width: 0.125, height: 0 });
	const redOverBlue = Array.from({ length: width }, (_, x) => rgba[4 * x]! - rgba[4 * x + 2]!);
	expect(Math.max(...redOverBlue)).toBeGreaterThan(90);
	await page.keyboard.press('l');
	await expect(page.getByRole('button', { name: 'Show Maren Oakshaw' })).toBeVisible();

	// Something nobody may read is patched wherever its source is shown.
	await page.getByRole('button', { name: 'Lectern', exact: true }).click();
	await page.getByRole('button', { name: 'Add a patch' }).click();
	const patched = await seenBy();
	await page.getByRole('button', { name: /^Remove the patch/ }).click();

	// A camera is framed by hand, and its sharpness is said.
	await page.getByRole('button', { name: 'Add a framing' }).click();
	await expect(page.getByText('Visibly soft: 50 %')).toBeVisible();
	const frame = page.getByRole('group', { name: 'Lectern 2, chosen.' });
	const middle = await leftOf(frame);
	await dragged(page, frame, -60, -30);
	const moved = await leftOf(frame);
	expect(moved).toBeLessThan(middle - 0.05);
	// A picture that becomes smaller or larger takes it along, and keeps its shape also where there is room for another one.
	const whole = page.viewportSize()!;
	for (const height of [whole.height - 100, whole.height + 400]) {
		const { width: wide } = (await frame.boundingBox())!;
		await page.setViewportSize({ ...whole, height });
		await until('a picture of another size', async () => Math.abs((await frame.boundingBox())!.width - wide) > 20);
		expect(Math.abs((await leftOf(frame)) - moved)).toBeLessThan(0.01);
		const picture = (await frame.locator('..').boundingBox())!;
		expect(picture.width / picture.height).toBeCloseTo(16 / 9, 1);
	}
	await page.setViewportSize(whole);
	await frame.press('Control+z');
	await until('its old place', async () => Math.abs((await leftOf(frame)) - middle) < 0.01);
	await page.getByRole('button', { name: 'Make a scene of it' }).click();
	await expect(wall(page)).toContainText('14 Lectern 2');
	await page.getByRole('button', { name: 'Done' }).click();

	// A scene of two cameras: the second is put into the corner by dragging.
	await page.getByRole('button', { name: 'New scene' }).click();
	await page.getByLabel('Name of the scene').fill('Two at once');
	// Somebody else changes the scene meanwhile: what is typed stays.
	const scene = await until('the new scene', () =>
		hub.messages
			.flatMap((each) => (each.type === 'applied' && each.command.type === 'addScene' ? each.command.scene : []))
			.at(-1),
	);
	await hub.applied(hub.do({ type: 'changeScene', scene: { ...scene, background: { is: 'none' } }, live: true }));
	await expect(page.getByLabel('Name of the scene')).toHaveValue('Two at once');
	hub.socket.close();
	await page.getByLabel('Name of the scene').blur();
	// Nothing goes without a name: an emptied field shows it again.
	await page.getByLabel('Name of the scene').fill(' ');
	await page.getByLabel('Name of the scene').blur();
	await expect(page.getByLabel('Name of the scene')).toHaveValue('Two at once');
	await page.getByLabel('Add a layer').selectOption('Chapel wide');
	await page.getByLabel('Add a layer').selectOption('Choir left');
	const layer = page.getByRole('group', { name: 'Choir left, chosen.' });
	await dragged(page, layer, -160, -90);
	const left = Number(await page.getByLabel('From the left').inputValue());
	expect(left).toBeLessThan(40);
	await page.getByLabel('Editing Two at once').getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByLabel('From the left')).toHaveValue('60');
	await page.getByRole('button', { name: 'Done' }).click();

	// The lever stops half way, and its end is a take.
	await page.getByRole('button', { name: 'Put in Next: Two at once' }).click();
	const lever = page.getByRole('slider', { name: 'Hand lever' });
	await lever.fill('0.5');
	await expect(onAir(page)).toContainText('half way to Two at once');
	const half = await seenBy();
	await lever.fill('1');
	await expect(onAir(page)).toContainText('Two at once');
	const two = await seenBy();

	// Black over everything, and back.
	await page.keyboard.press('b');
	await expect(onAir(page)).toContainText('BLACK');
	await seenBy();
	await page.keyboard.press('b');
	await expect(onAir(page)).not.toContainText('BLACK');
	await seenBy();
	await endBroadcast(page);

	const seen = (await frames(await demo.received('ridge'))).map(({ luma }) => luma);
	const at = (index: number) => seen[index]!;
	const name = { x: 4, y: 28, width: 10, height: 4 };
	expect(difference(part(at(named), name), part(at(lectern), name))).toBeGreaterThan(12);
	expect(difference(part(at(patched), name), part(at(lectern), name))).toBeLessThan(8);

	// What is left of the middle is soft, while beside the patch nothing has changed.
	const detail = (luma: Uint8Array) => {
		const inner = part(luma, { x: 21, y: 12, width: 22, height: 12 });
		return inner.reduce((sum, value, i) => (i % 22 === 0 ? sum : sum + Math.abs(value - inner[i - 1]!)), 0);
	};
	expect(detail(at(patched))).toBeLessThan(0.6 * detail(at(lectern)));
	const beside = { x: 2, y: 2, width: 14, height: 30 };
	expect(difference(part(at(patched), beside), part(at(lectern), beside))).toBeLessThan(6);

	const inCorner = { x: 40, y: 23, width: 20, height: 11 };
	expect(difference(part(at(two), inCorner), part(at(lectern), inCorner))).toBeGreaterThan(10);
	const between = at(lectern).map((value, i) => (value + at(two)[i]!) / 2);
	expect(difference(at(half), between)).toBeLessThan(difference(at(half), at(lectern)));
	expect(difference(at(half), between)).toBeLessThan(difference(at(half), at(two)));
	const isBlack = seen.map((luma) => Math.max(...luma) < 20);
	expect(isBlack.slice(0, two)).not.toContain(true);
	expect(isBlack.slice(two)).toContain(true);
	expect(isBlack.at(-1)).toBe(false);
});

test('an arrangement is filled by dropping, a layer cropped by hand, a key judged by what it leaves', async ({
	page,
}) => {
	await openDesk(page);
	await page.getByRole('button', { name: 'New scene' }).click();
	await page.getByLabel('How many pictures').selectOption('3');
	await page.getByRole('button', { name: 'One large' }).click();
	await expect(page.locator('[data-place]')).toHaveCount(3);
	const drop = (source: string, place: number) =>
		page.locator(`[data-source="${source}"]`).dragTo(page.locator(`[data-place="${place}"]`));
	await drop('lectern', 0);
	await expect(page.locator('[data-place]')).toHaveCount(2);
	await drop('choir-left', 1);
	await page.getByLabel('Add a layer').selectOption('Chapel wide');
	await expect(page.locator('[data-place]')).toHaveCount(0);
	// Dropped second, but into the last place: the third stands above it.
	const box = async (name: string) => (await page.locator('[data-box]').and(page.getByLabel(name)).boundingBox())!;
	const [large, small, third] = [await box('Lectern'), await box('Choir left'), await box('Chapel wide')];
	expect(large.width).toBeGreaterThan(2 * small.width);
	expect(third.y).toBeLessThan(small.y);

	await page.getByText('Crop', { exact: true }).click();
	await page.getByRole('button', { name: 'Crop by hand' }).click();
	const crop = page.getByRole('group', { name: /^What the layer shows/ });
	for (let i = 0; i < 20; i++) await crop.press('Shift+ArrowLeft');
	await crop.press('ArrowRight');
	await expect(page.getByRole('spinbutton', { name: /^Right/ })).toHaveValue('19');
	await expect(page.getByRole('spinbutton', { name: /^Left/ })).toHaveValue('1');
	await page.getByRole('button', { name: 'Back to the scene' }).click();

	// The dark parts go: what is left is white, and both are seen.
	await page.getByText('Make transparent').click();
	await page.getByLabel('What becomes transparent').selectOption('The dark parts, or the light ones');
	await page.getByText('Show the mask: white stays, black goes').click();
	await page.getByRole('button', { name: 'Full picture' }).click();
	await expect(async () => {
		const { rgba } = await pixelsOf(page.getByLabel(/^Editing Scene/), { x: 0.02, y: 0.05, width: 0.9, height: 0.9 });
		const light = rgba.filter((_, i) => i % 4 === 0);
		expect(light.filter((value) => value < 10).length).toBeGreaterThan(light.length / 50);
		expect(light.filter((value) => value > 245).length).toBeGreaterThan(light.length / 50);
		expect(rgba.filter((value, i) => i % 4 === 1 && Math.abs(value - rgba[i - 1]!) > 3)).toEqual([]);
	}).toPass({ timeout: SOON_MS });
});

test('the wall has a window of its own, with every scene live, that can be switched from', async ({
	page,
	context,
}) => {
	await openDesk(page);
	const [second] = await Promise.all([
		context.waitForEvent('page'),
		page.getByRole('button', { name: 'Wall on a second screen' }).click(),
	]);
	await second.setViewportSize({ width: 1280, height: 800 });
	await expect(second.getByRole('button', { name: 'Put in Next: Choir left' })).toBeVisible();
	const tile = second.getByRole('button', { name: 'Put in Next: Lectern' });
	await until('a picture in it', async () => {
		const { rgba } = await pixelsOf(tile, { x: 0.1, y: 0.3, width: 0.8, height: 0.5 });
		return Math.max(...rgba.filter((_, i) => i % 4 === 0)) > 100;
	});
	// All of it without scrolling, and choosing here is choosing on the desk.
	const last = (await second.locator('button').filter({ hasText: 'Thank you' }).boundingBox())!;
	expect(last.y + last.height).toBeLessThan(800);
	await second.getByRole('button', { name: 'Put in Next: Choir left' }).click();
	await expect(next(page)).toContainText('Choir left');
	await second.keyboard.press('Digit1');
	await expect(next(page)).toContainText('Lectern');
	await page.close({ runBeforeUnload: false });
});

test('what is changed in the scene on air waits until it is taken', async ({ page }) => {
	await openDesk(page);
	await page.keyboard.press('Shift+Digit1');
	await goOnAir(page);
	await page.getByRole('button', { name: 'Edit Lectern', exact: true }).click();
	await expect(page.getByText('What you change waits until you take it.')).toBeVisible();
	const unchanged = await seenBy();
	await page.getByLabel('Width').fill('50');
	await page.getByLabel('Width').blur();
	const waiting = await seenBy();
	await page.getByRole('button', { name: 'Take the changes' }).click();
	const taken = await seenBy();
	await page.getByRole('button', { name: 'Edit live' }).click();
	await expect(page.getByText('Editing LIVE: viewers see')).toBeVisible();
	await page.getByRole('button', { name: 'Full picture' }).click();
	const live = await seenBy();
	await endBroadcast(page);

	const seen = (await frames(await demo.received('ridge'))).map(({ luma }) => luma);
	const right = { x: 40, y: 2, width: 20, height: 32 };
	const light = (index: number) => {
		const region = part(seen[index]!, right);
		return region.reduce((sum, value) => sum + value, 0) / region.length;
	};
	expect(light(waiting)).toBeGreaterThan(light(unchanged) - 6);
	expect(light(taken)).toBeLessThan(20);
	expect(light(live)).toBeGreaterThan(light(unchanged) - 6);
});

test('stills are checked before they are kept, and an SVG cannot do anything', async ({ page }) => {
	const asked: string[] = [];
	page.on('request', (request) => asked.push(request.url()));
	await openDesk(page);
	await page.getByRole('button', { name: 'Add a source' }).click();
	const dialog = page.getByRole('dialog');
	const give = (name: string, mimeType: string, text: string | Buffer) =>
		dialog.locator('input[type=file]').setInputFiles({ name, mimeType, buffer: Buffer.from(text) });
	await give('poster.png', 'image/png', 'this is not a picture');
	await expect(dialog.getByRole('alert')).toContainText('poster.png is not a picture that can be read');
	await give('broken.svg', 'image/svg+xml', '<svg xmlns="http://www.w3.org/2000/svg"><rect');
	await expect(dialog.getByRole('alert')).toContainText('broken.svg is not an SVG picture');

	const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="160" height="90" onload="fetch('/from-svg')">
		<script>fetch('/from-svg')</script><image href="${demo.url}/from-svg" width="10" height="10"/>
		<rect width="160" height="90" fill="#f0a830"/></svg>`;
	await give('lantern.svg', 'image/svg+xml', svg);
	await expect(page.locator('[data-source]').filter({ hasText: 'lantern' })).toContainText('1920 × 1080');
	expect(asked.filter((url) => url.includes('from-svg'))).toEqual([]);

	const huge = await page.evaluate(async () => {
		const canvas = new OffscreenCanvas(9000, 10);
		canvas.getContext('2d')!.fillRect(0, 0, 9000, 10);
		return Array.from(new Uint8Array(await (await canvas.convertToBlob()).arrayBuffer()));
	});
	await page.getByRole('button', { name: 'Add a source' }).click();
	await give('wide.png', 'image/png', Buffer.from(huge));
	await expect(dialog.getByRole('alert')).toContainText('wide.png is 9000 × 10; 8192 pixels a side is the most');

	// A photo has some megabytes; noise does not get smaller.
	const photo = test.info().outputPath('photo.png');
	await run('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', NOISE, '-frames:v', '1', photo]);
	expect(statSync(photo).size).toBeGreaterThan(1e6);
	await dialog.locator('input[type=file]').setInputFiles(photo);
	await expect(page.locator('[data-source]').filter({ hasText: 'photo' })).toContainText('1280 × 800');
});

test('pictures that move play with their transparency, over whatever is behind them', async ({ page }) => {
	const file = (name: string) => test.info().outputPath(name);
	// Half a second of red, then half of blue, in the left half; the right half is clear.
	const colours = 'color=red:size=320x180:rate=10:duration=0.5[r];color=blue:size=320x180:rate=10:duration=0.5[b]';
	const clear = `${colours};[r][b]concat,format=rgba,geq=r='r(X,Y)':g=0:b='b(X,Y)':a='255*lt(X,160)'`;
	const make = (name: string, ...coding: string[]) =>
		run('ffmpeg', ['-v', 'error', '-filter_complex', clear, ...coding, file(name)]);
	await make('apng.apng', '-plays', '0');
	await make('animated.webp', '-c:v', 'libwebp_anim', '-lossless', '1', '-loop', '0');
	await make('film.webm', '-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-b:v', '1M', '-auto-alt-ref', '0');
	await openDesk(page);
	for (const name of ['apng.apng', 'animated.webp', 'film.webm']) {
		await page.getByRole('button', { name: 'Add a source' }).click();
		const dialog = page.getByRole('dialog');
		const bytes = { name: name.replace('.apng', '.png'), mimeType: '', buffer: readFileSync(file(name)) };
		await dialog.locator('input[type=file]').setInputFiles(bytes);
		const title = name.split('.')[0]!;
		await expect(page.locator('[data-source]').filter({ hasText: title })).toContainText('320 × 180');
		await page.getByRole('button', { name: `Put in Next: ${title}` }).click();
		const seen = new Set<string>();
		await until(`both colours of ${name}`, async () => {
			const { rgba } = await pixelsOf(next(page), { x: 0.2, y: 0.5, width: 0, height: 0 });
			const [r, g, b] = rgba as [number, number, number];
			if (r > 200 && g < 60 && b < 60) seen.add('red');
			if (b > 200 && g < 60 && r < 60) seen.add('blue');
			return seen.size === 2;
		});
		const { rgba } = await pixelsOf(next(page), { x: 0.8, y: 0.5, width: 0, height: 0 });
		expect(rgba.slice(0, 3).every((value) => value < 12)).toBe(true);
	}
});

/** Lets a page share a made-up sheet of numbers, and end it, without a screen. */
function pretendToShare(): void {
	const { mediaDevices } = navigator;
	if (!mediaDevices) return;
	mediaDevices.getDisplayMedia = async () => {
		const canvas = document.createElement('canvas');
		[canvas.width, canvas.height] = [960, 540];
		const context = canvas.getContext('2d')!;
		setInterval(() => {
			context.fillStyle = '#fff';
			context.fillRect(0, 0, 960, 540);
			context.fillStyle = '#000';
			context.font = '24px monospace';
			// Lines of made-up numbers, none like another, on a page that can be scrolled.
			const { scrolled = 0 } = globalThis as { scrolled?: number };
			for (let line = 0; line < 60; line++) {
				const numbers = Array.from({ length: 12 }, (_, i) => ((line * 7919 + i * 104_729) % 9973) + 1000);
				context.fillText(numbers.join(' '), 0, 24 * line + 20 - scrolled);
			}
		}, 100);
		const stream = canvas.captureStream(10);
		Object.assign(globalThis, { endShare: () => stream.getTracks()[0]!.dispatchEvent(new Event('ended')) });
		return stream;
	};
}

test('a shared screen starts unreadable, is named when it ends, and can be shared again', async ({ page }) => {
	await page.addInitScript(pretendToShare);
	await openDesk(page);
	await page.getByRole('button', { name: 'Add a source' }).click();
	await page.getByRole('button', { name: 'Share a screen or window' }).click();
	const line = page.locator('[data-source]').filter({ hasText: 'Shared screen' });
	await expect(line).toContainText('960 × 540');
	await page.getByRole('button', { name: 'Put in Next: Shared screen' }).click();
	/** Mean step from pixel to pixel, and mean light, of the middle of Next. */
	const looks = () =>
		pixelsOf(next(page), { x: 0.05, y: 0.25, width: 0.9, height: 0.5 }).then(({ width, rgba }) => {
			let [steps, light] = [0, 0];
			const pixels = rgba.length / 4;
			for (let i = 1; i < pixels; i++) {
				light += rgba[4 * i]!;
				if (i % width > 0) steps += Math.abs(rgba[4 * i]! - rgba[4 * i - 4]!);
			}
			return { steps: steps / pixels, light: light / pixels };
		});
	await expect(async () => {
		const patched = await looks();
		expect(patched.light).toBeGreaterThan(100);
		expect(patched.steps).toBeLessThan(3);
	}).toPass({ timeout: SOON_MS });
	await page.getByRole('button', { name: 'Patched: Shared screen' }).click();
	await expect.poll(async () => (await looks()).steps).toBeGreaterThan(8);

	// A patch on a line goes with it when the page scrolls, and beside it everything can be read.
	await page.getByRole('button', { name: 'Shared screen', exact: true }).click();
	await page.getByRole('button', { name: 'Remove the patch Shared screen' }).click();
	await page.getByRole('button', { name: 'Add a patch' }).click();
	await expect(page.getByLabel('Follows the page')).toBeChecked();
	await page.getByLabel('Look of the patch').selectOption('Solid');
	await page.getByRole('button', { name: 'Done' }).click();
	/** First and last row of Next, in parts, that the patch covers in the middle column. */
	const covered = () =>
		pixelsOf(next(page), { x: 0.5, y: 0, width: 0, height: 1 }).then(({ height, rgba }) => {
			const rows = Array.from({ length: height }, (_, y) => y).filter((y) =>
				[40, 48, 58].every((value, channel) => Math.abs(rgba[4 * y + channel]! - value) < 8),
			);
			return [rows[0]! / height, rows.at(-1)! / height] as const;
		});
	await expect.poll(async () => (await covered())[0]).toBeCloseTo(0.29, 1);
	const [top, bottom] = await covered();
	await page.evaluate('globalThis.scrolled = 100');
	await expect(async () => {
		const [movedTop, movedBottom] = await covered();
		expect(movedTop - top).toBeCloseTo(-100 / 540, 1);
		expect(movedBottom - bottom).toBeCloseTo(-100 / 540, 1);
		expect(movedTop).toBeLessThan(0.15);
	}).toPass({ timeout: SOON_MS });

	await page.evaluate('endShare()');
	await expect(page.getByRole('alert')).toContainText('The sharing of Shared screen has ended');
	await page.getByRole('button', { name: 'Share again' }).click();
	// How far that page is scrolled nobody knows, so all of it is covered until somebody says where the patch belongs.
	await expect(line).toContainText('all patched');
	await expect.poll(covered).toEqual([0, expect.closeTo(1, 1)]);
	await page.getByRole('button', { name: 'Shared screen', exact: true }).click();
	await page.getByRole('group', { name: /^Shared screen 1, chosen/ }).press('ArrowDown');
	await expect(line).toContainText('960 × 540');
});

test('a camera that stands still is named within two seconds, and the sheets have nothing to object to', async ({
	page,
}) => {
	await openDesk(page);
	const sheets = [
		() => page.getByRole('button', { name: 'Edit Talk and chapel' }).click(),
		() => page.getByRole('button', { name: 'Chapel wide', exact: true }).click(),
		() => page.getByRole('button', { name: 'Names and overlays…' }).click(),
	];
	for (const open of sheets) {
		await open();
		await accessible(page);
		await page.getByRole('button', { name: 'Done' }).click();
	}

	for (const [name, says, tile] of [
		['Frozen camera', 'Frozen camera stands still', 'Stands still'],
		['Black camera', 'Black camera is black', 'Black'],
	] as const) {
		await page.getByRole('button', { name: 'Add a source' }).click();
		await page.getByRole('dialog').getByRole('button', { name }).click();
		await expect(page.getByRole('alert').filter({ hasText: says })).toBeVisible();
		await expect(wall(page)).toContainText(tile);
	}

	// Devices that come and go are nothing to what is made here.
	const card = page.locator('[data-source]').filter({ hasText: 'Starting soon' });
	await expect(card).toContainText('made here');
	await page.evaluate(async () => {
		navigator.mediaDevices.dispatchEvent(new Event('devicechange'));
		// Whoever has asked for the list before has it before, and has drawn what it made of it.
		await navigator.mediaDevices.enumerateDevices();
		for (const _ of [1, 2]) await new Promise(requestAnimationFrame);
	});
	await expect(card).toContainText('made here');
});

test('grey picked from the picture corrects it, and one press shows it as it comes again', async ({ page }) => {
	await openDesk(page);
	await page.getByRole('button', { name: 'Lectern', exact: true }).click();
	const asItComes = page.getByRole('button', { name: 'Reset the picture' });
	await expect(asItComes).toBeDisabled();
	await page.getByRole('button', { name: 'Pick what should be grey' }).click();
	await page.getByRole('button', { name: 'Pick a colour from the picture' }).click({ position: { x: 60, y: 60 } });
	await expect(asItComes).toBeEnabled();
	await asItComes.click();
	await expect(asItComes).toBeDisabled();
});
