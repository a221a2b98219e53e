/**
 * Draws the stand-in cameras' loops and makes the console's sound, once, into ../media, which ships with Bivvo.
 * Needs Chromium and FFmpeg: npx tsx standins/venue/make/make.ts [cameras|console]
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { chromium } from '@playwright/test';
import { consoleInputs } from './sound.ts';

const FPS = 30;
const FRAMES = 300;
const CAMERAS = [
	{ id: 'lectern', name: 'Lectern' },
	{ id: 'chapel-wide', name: 'Chapel wide' },
	{ id: 'choir-left', name: 'Choir left' },
];
const media = (file: string) => new URL(`../media/${file}`, import.meta.url).pathname;

function ffmpeg(...args: string[]) {
	const child = spawn('ffmpeg', ['-hide_banner', '-loglevel', 'error', '-y', ...args], {
		stdio: ['pipe', 'inherit', 'inherit'],
	});
	const done = once(child, 'exit').then(([code]) => {
		if (code !== 0) throw new Error(`ffmpeg ended with ${code}`);
	});
	return { input: child.stdin, done };
}

async function makeCamera(id: string, name: string): Promise<void> {
	const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
	const page = await browser.newPage();
	await page.addScriptTag({ path: new URL('./scenes.js', import.meta.url).pathname });
	// No reordering: a camera has none. Decoded with little work, since a camera needs none at all. BT.709 limited
	// range, as the engine expects.
	const encoding =
		'-c:v libx264 -preset slow -tune fastdecode -refs 1 -crf 23 -bf 0 -g 150 -maxrate 2400k -bufsize 2400k -pix_fmt yuv420p';
	const colour =
		'-vf scale=out_color_matrix=bt709:out_range=tv -colorspace bt709 -color_primaries bt709 -color_trc bt709';
	const { input, done } = ffmpeg(
		...`-f image2pipe -c:v mjpeg -framerate ${FPS} -i -`.split(' '),
		...`${encoding} ${colour} -movflags +faststart`.split(' '),
		media(`${id}.mp4`),
	);
	for (let frame = 0; frame < FRAMES; frame++) {
		const jpeg = await page.evaluate(
			`(() => {
				const canvas = (globalThis.canvas ??= new OffscreenCanvas(1280, 720));
				drawFrame(canvas.getContext('2d'), ${JSON.stringify(id)}, ${JSON.stringify(name)}, ${frame}, ${FPS});
				return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.95 })
					.then((blob) => new Promise((resolve) => {
						const reader = new FileReader();
						reader.onload = () => resolve(reader.result.split(',')[1]);
						reader.readAsDataURL(blob);
					}));
			})()`,
		);
		if (!input.write(Buffer.from(jpeg as string, 'base64'))) await once(input, 'drain');
	}
	input.end();
	await done;
	await browser.close();
}

/** Lossless, which is three times as large and decoded in a third of the time: a desk that comes back has none to spare. */
async function makeConsole(): Promise<void> {
	for (const [name, samples] of Object.entries(consoleInputs())) {
		const { input, done } = ffmpeg(
			...'-f s16le -ar 48000 -ac 1 -i - -c:a flac -compression_level 8'.split(' '),
			media(`${name}.flac`),
		);
		input.end(samples);
		await done;
	}
}

const only = process.argv[2];
if (only !== 'cameras') await makeConsole();
if (only !== 'console') await Promise.all(CAMERAS.map(({ id, name }) => makeCamera(id, name)));
