/**
 * Draws the stand-in cameras' loops, guests and clips, and makes the console's sound and guests' voices, once, into ../media
 * and ../../guest/media, which ship with Bivvo. Needs Chromium and FFmpeg: npx tsx standins/venue/make/make.ts [cameras|console|clips|guests|network]
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { chromium } from '@playwright/test';
import { consoleInputs, guestVoices } from './sound.ts';

const FPS = 30;
const FRAMES = 300;
const CAMERAS = [
	{ id: 'lectern', name: 'Lectern' },
	{ id: 'chapel-wide', name: 'Chapel wide' },
	{ id: 'choir-left', name: 'Choir left' },
];
const GUESTS = [
	{ id: 'cold-tarn', name: 'Cold Tarn' },
	{ id: 'three-larches', name: 'Three Larches' },
];
/** Seen from here. */
const GUESTS_MEDIA = '../../guest/media';
/** Clips, with the console's inputs that they are heard with: name and gain. */
const CLIPS = [
	{
		id: 'welcome',
		file: 'welcome-loop',
		lengthS: 12,
		sounds: [
			['harmonium', 0.5],
			['fiddle', 0.35],
		],
	},
	{
		id: 'season',
		file: 'season-on-the-fell',
		lengthS: 90,
		sounds: [
			['handheld', 0.9],
			['film-left', 0.35],
			['film-right', 0.35],
		],
	},
	{
		id: 'closing',
		file: 'closing',
		lengthS: 15,
		sounds: [
			['choir-left', 0.6],
			['choir-right', 0.6],
			['harmonium', 0.3],
		],
	},
] as const;
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

// BT.709 limited range, as the engine expects.
const COLOUR =
	'-vf scale=out_color_matrix=bt709:out_range=tv -colorspace bt709 -color_primaries bt709 -color_trc bt709';

/**
 * Draws frames in a page and encodes them.
 * @param before filters of the picture that come first, each with a comma
 * @param draw what the page runs for a frame, with `context`, `frame` and `FPS`
 */
async function encodeFrames(
	frames: number,
	draw: string,
	encoding: string,
	file: string,
	sound: string[] = [],
	before = '',
) {
	const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
	const page = await browser.newPage();
	// Clips have a lantern of their own under the same name.
	for (const script of draw.startsWith('drawClip') ? ['scenes', 'clips'] : ['scenes'])
		await page.addScriptTag({ path: new URL(`./${script}.js`, import.meta.url).pathname });
	await page.evaluate(`(${loadFonts.toString()})(${JSON.stringify(await fontData())})`);
	const { input, done } = ffmpeg(
		...`-f image2pipe -c:v mjpeg -framerate ${FPS} -i -`.split(' '),
		...sound,
		...`${encoding} ${COLOUR.replace('-vf ', `-vf ${before}`)} -movflags +faststart`.split(' '),
		media(file),
	);
	for (let frame = 0; frame < frames; frame++) {
		const jpeg = await page.evaluate(
			`(() => {
				const canvas = (globalThis.canvas ??= new OffscreenCanvas(1280, 720));
				const [context, frame, FPS] = [canvas.getContext('2d'), ${frame}, ${FPS}];
				${draw};
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

/** The font that ships with Bivvo, by weight, as data. */
async function fontData(): Promise<Record<string, string>> {
	const weights = ['400', '700'];
	const file = (weight: string) =>
		new URL(
			`../../../node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff2`,
			import.meta.url,
		);
	const entries = weights.map(async (weight) => [weight, (await readFile(file(weight))).toString('base64')] as const);
	return Object.fromEntries(await Promise.all(entries));
}

/** Runs in the page. */
async function loadFonts(data: Record<string, string>): Promise<void> {
	for (const [weight, base64] of Object.entries(data)) {
		const font = new FontFace('Atkinson Hyperlegible Next', `url(data:font/woff2;base64,${base64})`, { weight });
		document.fonts.add(await font.load());
	}
}

// No reordering: a camera has none. Decoded with little work, since a camera needs none at all.
const CAMERA_ENCODING =
	'-c:v libx264 -preset slow -tune fastdecode -refs 1 -crf 23 -bf 0 -g 150 -maxrate 2400k -bufsize 2400k -pix_fmt yuv420p';

function makeCamera(id: string, name: string, file = `${id}.mp4`): Promise<void> {
	const draw = `drawFrame(context, ${JSON.stringify(id)}, ${JSON.stringify(name)}, frame, FPS)`;
	return encodeFrames(FRAMES, draw, CAMERA_ENCODING, file);
}

/** The same with half as many lines: an old laptop's camera, which costs a machine a quarter of it. */
async function makeSmall(file: string, to: string): Promise<void> {
	const encoding = CAMERA_ENCODING.replace('-maxrate 2400k -bufsize 2400k', '-maxrate 900k -bufsize 900k');
	const { input, done } = ffmpeg(
		'-i',
		media(file),
		'-vf',
		'scale=640:360:flags=area',
		...encoding.split(' '),
		media(to),
	);
	input.end();
	await done;
}

/** A clip as a person would bring it: H.264 with reordered frames, AAC in two sides, at most 4 MB. */
async function makeClip({ id, file, lengthS, sounds }: (typeof CLIPS)[number]): Promise<void> {
	const inputs = sounds.flatMap(([name]) => ['-stream_loop', '-1', '-i', media(`${name}.flac`)]);
	const pan = (name: string) =>
		name.endsWith('left') ? '1|c1=0.3*c0' : name.endsWith('right') ? '0.3*c0|c1=1' : '1|c1=1';
	const sides = sounds.map(([name, gain], i) => {
		const [left, right] = pan(name).split('|c1=');
		const side = (part: string) => `${Number(part.replace('*c0', '')) * gain}*c0`;
		return `[${i + 1}:a]pan=stereo|c0=${side(left!)}|c1=${side(right!)}[s${i}]`;
	});
	const mixed = sounds.map((_, i) => `[s${i}]`).join('');
	const fades = `atrim=0:${lengthS},afade=in:d=0.4,afade=out:st=${lengthS - 1.2}:d=1.2`;
	const filter = `${sides.join(';')};${mixed}amix=inputs=${sounds.length}:normalize=0,${fades}[sound]`;
	const rate = Math.floor((3.6e6 * 8) / lengthS / 1000 - 128);
	const kbps = Math.min(1600, rate);
	const encoding = `-map 0:v -map [sound] -c:v libx264 -preset slow -crf 22 -g 60 -maxrate ${kbps}k -bufsize ${2 * kbps}k -pix_fmt yuv420p -c:a aac -b:a 128k`;
	await encodeFrames(FPS * lengthS, `drawClip(context, ${JSON.stringify(id)}, frame, FPS)`, encoding, `${file}.mp4`, [
		...inputs,
		'-filter_complex',
		filter,
	]);
}

/** Lossless, which is three times as large and decoded in a third of the time: a desk that comes back has none to spare. */
async function makeSounds(sounds: Record<string, Buffer>, folder = '.'): Promise<void> {
	for (const [name, samples] of Object.entries(sounds)) {
		const { input, done } = ffmpeg(
			...'-f s16le -ar 48000 -ac 1 -i - -c:a flac -compression_level 8'.split(' '),
			media(`${folder}/${name}.flac`),
		);
		input.end(samples);
		await done;
	}
}

/** What a camera in the network sends that was left at its small picture: 4:3, with sound, and no reordering. */
function makeNetworkCamera(): Promise<void> {
	const draw = `drawFrame(context, 'tower-door', 'Tower door', frame, FPS)`;
	const wind = `[1:a]lowpass=f=700,volume=0.6,afade=in:d=0.3,afade=out:st=9.6:d=0.4,atrim=0:10[sound]`;
	const encoding = `-map 0:v -map [sound] ${CAMERA_ENCODING.replace('-g 150', '-g 60').replace(/2400k/g, '800k')} -c:a aac -b:a 96k -t 10`;
	// The crop keeps the corner with the name; the one filter of colour and size takes the place of the usual.
	return encodeFrames(
		FRAMES,
		draw,
		`${encoding} -s 640x480`,
		'tower-door.mp4',
		[...['-stream_loop', '-1', '-i', media('film-left.flac')], ...['-filter_complex', wind]],
		'crop=960:720:320:0,',
	);
}

const only = process.argv[2];
const isWanted = (what: string) => only === undefined || only === what;
if (isWanted('console')) await makeSounds(consoleInputs());
if (isWanted('cameras')) await Promise.all(CAMERAS.map(({ id, name }) => makeCamera(id, name)));
if (isWanted('network')) await makeNetworkCamera();
if (isWanted('clips')) await Promise.all(CLIPS.map(makeClip));
if (isWanted('guests')) {
	await makeSounds(guestVoices(), GUESTS_MEDIA);
	await Promise.all(GUESTS.map(({ id, name }) => makeCamera(id, name, `${GUESTS_MEDIA}/${id}-720.mp4`)));
	for (const { id } of GUESTS) await makeSmall(`${GUESTS_MEDIA}/${id}-720.mp4`, `${GUESTS_MEDIA}/${id}.mp4`);
}
