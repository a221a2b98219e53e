/** Guests at a desk: what they cost it, how soon they are seen, and how far their sound and their picture are apart. */
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import { WebSocket } from 'ws';
import { CHROMIUM } from '../playwright.config.ts';
import type { Command } from '../src/core/show/command.ts';
import { addingSeat } from '../src/core/show/guests/adding.ts';
import { CUT, plainScene, wholeLayer } from '../src/core/show/scenes/scene.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { comeAsGuest, guestLink } from '../tests/support/guests.ts';
import { difference, frames } from '../tests/support/see.ts';
import { processorSeconds } from './cores.ts';
import { encodedTimes, watchEncoder, type EncoderWatch } from './encoder-watch.ts';
import { EVENT, newContext, pidOf, prepare, shareOfDue, sizeOf, withDemo } from './event.ts';
import { FLOOR_PICTURES, measureFloor } from './floor.ts';
import { lipSync } from './lip-sync.ts';
import { Receiver } from './receiver.ts';
import { median, row, type Row } from './table.ts';

const MEASURED_S = 30;
const WATCHED_S = 15;
const LET_IN = 10;
const FLASHES_S = 45;
const SILENT_S = 20;
const MANY = 10;
const SHOWN = 4;
/** A guest in a seat changes the small picture by more than this; what moves in it by far less. */
const SEATED_DIFFERENCE = 5;
/** Around a guest's coming or going frames of the program are counted. */
const AROUND_MS = 4000;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const now = () => performance.timeOrigin + performance.now();

/** What they cost, and how soon they are seen: each at a desk of its own, so that neither takes time from the other. */
export async function benchGuests(): Promise<Row[]> {
	return [...(await withDemo(inPairs)), ...(await withDemo(alone))];
}

export async function benchManyGuests(): Promise<Row[]> {
	return withDemo(many);
}

/** What all parts of this bench work with. */
interface Bench {
	demo: Demo;
	/** That of the desk; guests have one of their own, so that their cost is not its. */
	browser: Browser;
	guests: Browser;
	receiver: Receiver;
	hub: HubPage;
	desk: Page;
	encoder: EncoderWatch;
	file: string;
	/** Channels of all but the first seat. */
	others: string[];
	tell(command: Command): Promise<unknown>;
}

/** A desk on air at 720p30 with so many seats, and nobody in them. */
async function withDesk<T>(
	demo: Demo,
	browser: Browser,
	options: { seats: number; guestsGiveWay: boolean },
	measure: (bench: Bench) => Promise<T>,
): Promise<T> {
	const file = path.join(demo.folder, 'received.flv');
	const receiver = new Receiver(file);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	const tell = async (command: Command) => {
		await hub.applied(hub.do(command));
	};
	await prepare(demo, tell, 720, await receiver.listen());
	for (let i = 1; i <= options.seats; i++) await tell(addingSeat(state, `seat-${i}`, `Seat ${i}`, 'camera'));
	// Nothing is recorded apart: what guests cost is measured, not what files do.
	await tell({ type: 'setDelivery', delivery: { ...state.setup.delivery, apart: { sourceIds: [], channelIds: [] } } });
	await tell({ type: 'setTransition', transition: { ...CUT } });
	const desk = await (await newContext(browser)).newPage();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	const encoder = await watchEncoder(desk, 720);
	await wait(3000);
	await tell({ type: 'startBroadcast', broadcastId: 'bench-guests' });
	await until('pictures', () => receiver.pictures.length > 30);
	const guests = await chromium.launch(CHROMIUM);
	if (options.guestsGiveWay) await giveWay(await pidOf(guests));
	try {
		const others = [...state.setup.channels.map(({ id }) => id), 'flash-channel'];
		for (let i = 2; i <= options.seats; i++) others.push(`seat-${i}-channel`);
		return await measure({ demo, browser, guests, receiver, hub, desk, encoder, file, others, tell });
	} finally {
		await guests.close();
		hub.socket.close();
	}
}

/**
 * Guests have machines of their own in life: here their browser runs when the desk's does not want to (sched(7), "The
 * autogroup feature": a session with a higher number gets less of a processor that others want too).
 */
async function giveWay(pid: number): Promise<void> {
	await writeFile(`/proc/${pid}/autogroup`, '15').catch(() =>
		console.log('This system has no groups of processes by session: the guests take time from the desk.'),
	);
}

/** What a guest's page keeps of one who does not look at the program: what that costs is measured by itself. */
const LOOKS_AWAY = `localStorage.setItem('bivvo-guest', JSON.stringify(
	{ name: '', camera: null, microphone: null, outputId: '', looksAt: 'self', volume: 1 }));`;

/** A guest's own picture as small as a phone has it: drawn on this machine's processor, it takes the desk's time. */
const PHONE = { width: 390, height: 844 };

type StandIn = Parameters<typeof comeAsGuest>[2];

/** A guest who waits at the door. */
async function comes(
	{ demo, guests }: Bench,
	name: string,
	standIn: StandIn,
	script = '',
): Promise<{ id: string; page: Page }> {
	const { id, address } = await guestLink(demo, name);
	const page = await comeAsGuest(guests, address, standIn, { viewport: PHONE }, async (context) => {
		if (script) await context.addInitScript(script);
	});
	return { id, page };
}

/** The first picture that changed after a moment: when it came out of the encoder, milliseconds since 1970. */
async function changesAfter({ encoder, receiver, file }: Bench, moments: readonly number[]): Promise<number[]> {
	const [times, seen] = [encodedTimes(receiver.pictures, await encoder.encoded()), await frames(file)];
	const changes = times.filter(
		(_, i) => i > 0 && seen[i] && difference(seen[i].luma, seen[i - 1]!.luma) > SEATED_DIFFERENCE,
	);
	return moments.flatMap((moment) => {
		const change = changes.find((at) => at > moment && at < moment + 3000);
		return change === undefined ? [] : [change - moment];
	});
}

async function inPairs(demo: Demo, browser: Browser): Promise<Row[]> {
	return withDesk(demo, browser, { seats: 2, guestsGiveWay: true }, async (bench) => {
		const { tell, hub, receiver, encoder } = bench;
		const [ysolde, pello] = [
			await comes(bench, 'Ysolde Brann', 'cold-tarn-720', LOOKS_AWAY),
			await comes(bench, 'Pello Arrizun', 'three-larches-720', LOOKS_AWAY),
		];
		// Each fills half of the program, which takes all of its lines.
		const half = (side: number) => ({ x: side / 2, y: 0, width: 0.5, height: 1 });
		const both = plainScene('both', 'Both', [
			{ ...wholeLayer('both-1', 'seat-1'), box: half(0), fit: 'fill' as const },
			{ ...wholeLayer('both-2', 'seat-2'), box: half(1), fit: 'fill' as const },
		]);
		await tell({ type: 'addScene', scene: both });
		await tell({ type: 'placeGuest', guestId: ysolde.id, seatId: 'seat-1' });
		await tell({ type: 'placeGuest', guestId: pello.id, seatId: 'seat-2' });
		await tell({ type: 'take', sceneId: 'both' });
		await wait(5000);

		// What both cost the desk.
		await encoder.keep(FLOOR_PICTURES);
		await wait(5000);
		const pid = await pidOf(bench.browser);
		const cores = async (seconds: number) => {
			const at = performance.now();
			const before = processorSeconds(pid) + processorSeconds(demo.serverPid());
			await wait(seconds * 1000);
			const used = processorSeconds(pid) + processorSeconds(demo.serverPid()) - before;
			return used / ((performance.now() - at) / 1000);
		};
		const from = receiver.pictures.length;
		const guestsPid = await pidOf(bench.guests);
		const [theirs, startedAt] = [processorSeconds(guestsPid), performance.now()];
		const withBoth = await cores(MEASURED_S);
		const senders = (processorSeconds(guestsPid) - theirs) / ((performance.now() - startedAt) / 1000);
		const share = shareOfDue(receiver.pictures.slice(from), 30);

		// Who watches the program at another desk, and ten of them.
		const watchers: WebSocket[] = [];
		const watch = async (count: number) => {
			while (watchers.length < count) {
				const address = `${demo.url.replace('http', 'ws')}/watch/${EVENT}?view=program`;
				const socket = new WebSocket(address, { headers: { Origin: demo.url } });
				const first = new Promise((resolve) => socket.once('message', resolve));
				watchers.push(socket);
				await first;
			}
			await wait(2000);
		};
		await watch(1);
		const one = await cores(WATCHED_S);
		await watch(10);
		const ten = await cores(WATCHED_S);
		for (const socket of watchers) socket.close();

		const kbps = hub.status!.rates[0]!.plannedKbps;
		await tell({ type: 'endBroadcast' });
		await receiver.close();
		for (const { page } of [ysolde, pello]) await page.close();
		const context = bench.desk.context();
		await bench.desk.close();
		const floor = await measureFloor(bench.browser, demo, {
			...{ context, picture: { ...sizeOf(720), fps: 30 }, kbps },
			// All that this desk decodes.
			sources: [
				...['lectern.mp4', 'chapel-wide.mp4', 'choir-left.mp4'],
				...['../../guest/media/cold-tarn-720.mp4', '../../guest/media/three-larches-720.mp4'],
			],
		});
		return [
			row('two guests at 720p in the program: browser and server (encoder and decoders alone)', withBoth, 'cores', {
				yardstick: floor.cores,
				limit: { most: 1.4 },
			}),
			row('frames received of frames due', share, '%', { limit: { least: 99.9 } }),
			row('the guests’ own pages', senders, 'cores'),
			row('the desk while one watches the program', one, 'cores'),
			row('ten watch the program (one of them alone)', ten, 'cores', { yardstick: one, limit: { most: 1.05 } }),
		];
	});
}

/** One guest, who comes and goes, and whose camera flashes. */
async function alone(demo: Demo, browser: Browser): Promise<Row[]> {
	return withDesk(demo, browser, { seats: 1, guestsGiveWay: true }, async (bench) => {
		const { tell, receiver } = bench;
		await tell({ type: 'take', sceneId: 'seat-1-scene' });
		const ysolde = await comes(bench, 'Ysolde Brann', 'cold-tarn');
		// From the door to a seat that viewers see.
		const moments: number[] = [];
		for (let i = 0; i < LET_IN; i++) {
			await wait(2500);
			moments.push(now());
			await tell({ type: 'placeGuest', guestId: ysolde.id, seatId: 'seat-1' });
			await wait(2500);
			await tell({ type: 'placeGuest', guestId: ysolde.id, seatId: null });
		}
		await ysolde.page.close();
		const flashes = await flashesOf(bench, 'Tova Lind', FLASHES, FLASHES_S);
		const silent = await flashesOf(bench, 'Corin Vale', SILENT_FLASHES, SILENT_S);
		await tell({ type: 'endBroadcast' });
		await wait(2500);
		await receiver.close();
		const letIn = await changesAfter(bench, moments);
		const [glass, silentGlass] = [await glassOf(bench, flashes), await glassOf(bench, silent)];
		const offsets = await lipSync(
			bench.file,
			(await frames(bench.file)).filter(({ time }) => time > flashes.fromS && time < flashes.toS),
		);
		return [
			row(`from “let in” to encoded, worst of ${letIn.length} of ${LET_IN}`, Math.max(...letIn), 'ms', {
				limit: { most: 500 },
			}),
			row(`the same, median`, median(letIn), 'ms'),
			row(`glass to program, median of ${glass.toProgram.length} flashes`, median(glass.toProgram), 'ms', {
				limit: { most: 200 },
			}),
			row(`the same without a microphone, of ${silentGlass.toProgram.length}`, median(silentGlass.toProgram), 'ms'),
			row(`program to a guest’s screen, median of ${glass.back.length}`, median(glass.back), 'ms', {
				limit: { most: 400 },
			}),
			row('sound apart from picture of a guest, at first', Math.abs(offsets.first), 'ms', { limit: { most: 40 } }),
			row('the same, later', Math.abs(offsets.last), 'ms', { limit: { most: 40 } }),
			row(`the same, worst of ${offsets.count}`, offsets.worst, 'ms'),
		];
	});
}

/**
 * A camera that flashes and a microphone that clicks, once a second; the page notes when. Its pictures are planes that are
 * ready, and of what comes back one point is read: the bench takes as little as it can of a machine that it shares.
 */
const FLASHES = `{
	window.flashes = [];
	// When the program that comes back to them turns light.
	window.returned = [];
	let wasLight = false;
	const { drawImage } = CanvasRenderingContext2D.prototype;
	CanvasRenderingContext2D.prototype.drawImage = function (picture, ...place) {
		if (picture instanceof VideoFrame) void note(picture.clone());
		return drawImage.call(this, picture, ...place);
	};
	const note = async (frame) => {
		const at = performance.timeOrigin + performance.now();
		const point = { x: frame.codedWidth / 2, y: frame.codedHeight / 4, width: 2, height: 2 };
		const bytes = new Uint8Array(frame.allocationSize({ rect: point }));
		await frame.copyTo(bytes, { rect: point });
		frame.close();
		const isLight = bytes[0] > 128;
		if (isLight && !wasLight) window.returned.push(at);
		wasLight = isLight;
	};
	const sound = new AudioContext({ sampleRate: 48000, sinkId: { type: 'none' } });
	const out = sound.createMediaStreamDestination();
	// Between clicks it is silent as a microphone is: something comes all the time.
	const still = new ConstantSourceNode(sound, { offset: 0.0001 });
	still.connect(out);
	still.start();
	const [width, height] = [640, 360];
	const planes = (luma) => new Uint8Array((width * height * 3) / 2).fill(128).fill(luma, 0, width * height);
	const [dark, light] = [planes(16), planes(235)];
	let lit = false;
	let write = () => {};
	const camera = () => {
		const track = new MediaStreamTrackGenerator({ kind: 'video' });
		const writer = track.writable.getWriter();
		write = () => {
			if (writer.desiredSize <= 0) return;
			const about = { format: 'I420', codedWidth: width, codedHeight: height, timestamp: performance.now() * 1000 };
			void writer.write(new VideoFrame(lit ? light : dark, about));
		};
		return track;
	};
	setInterval(() => write(), 1000 / 30);
	setInterval(() => {
		lit = true;
		write();
		window.flashes.push(performance.timeOrigin + performance.now());
		const tone = new OscillatorNode(sound, { frequency: 1000 });
		tone.connect(out);
		tone.start();
		tone.stop(sound.currentTime + 0.1);
		setTimeout(() => (lit = false), 150);
	}, 1000);
	navigator.mediaDevices.getUserMedia = async ({ video, audio }) => {
		await sound.resume();
		const tracks = [];
		if (video) tracks.push(camera());
		if (audio && window.isMute) throw new DOMException('No microphone', 'NotFoundError');
		if (audio) tracks.push(out.stream.getAudioTracks()[0].clone());
		return new MediaStream(tracks);
	};
}`;
/** The same without a microphone: no picture waits for its sound. */
const SILENT_FLASHES = `window.isMute = true; ${FLASHES}`;

interface Flashes {
	/** Seconds into the stream between which nothing else is seen. */
	fromS: number;
	toS: number;
	/** Milliseconds since 1970. */
	at: number[];
	/** When the guest's own page showed the program that was light, likewise. */
	returnedAt: number[];
}

/** A guest alone in the program, and heard alone, whose camera flashes. */
async function flashesOf(bench: Bench, name: string, script: string, seconds: number): Promise<Flashes> {
	const { tell, receiver, others } = bench;
	for (const channelId of others) await tell({ type: 'setMute', channelId, muted: true });
	const { id, page } = await comes(bench, name, null, script);
	await tell({ type: 'placeGuest', guestId: id, seatId: 'seat-1' });
	await tell({ type: 'take', sceneId: 'seat-1-scene' });
	await wait(5000);
	const fromS = receiver.pictures.at(-1)!.timestampMs / 1000;
	await page.evaluate('window.flashes.length = 0');
	await wait(seconds * 1000);
	const at = await page.evaluate<number[]>('window.flashes');
	await wait(1000);
	const toS = receiver.pictures.at(-1)!.timestampMs / 1000;
	const returnedAt = await page.evaluate<number[]>('window.returned');
	await page.close();
	await wait(1000);
	return { fromS, toS, at, returnedAt };
}

/** Mean brightness of a flash, and of what is between two, of 255. */
const LIGHT = 150;
const DARK = 80;

/**
 * From a flash at the guest's to the program's first light picture, out of the encoder; and from that to the guest's own
 * screen, milliseconds.
 */
async function glassOf(
	{ encoder, receiver, file }: Bench,
	{ at, returnedAt }: Flashes,
): Promise<{ toProgram: number[]; back: number[] }> {
	const [times, seen] = [encodedTimes(receiver.pictures, await encoder.encoded()), await frames(file)];
	const light = seen.map(({ luma }) => luma.reduce((sum, value) => sum + value, 0) / luma.length);
	const lit = times.filter((_, i) => i > 0 && light[i]! > LIGHT && light[i - 1]! < DARK);
	const firstIn = (moments: readonly number[], from: number) =>
		moments.find((each) => each > from && each < from + 900);
	const seenAt = at.map((moment) => firstIn(lit, moment));
	return {
		toProgram: at.flatMap((moment, i) => (seenAt[i] === undefined ? [] : [seenAt[i] - moment])),
		back: seenAt.flatMap((moment) => {
			const shownAt = moment && firstIn(returnedAt, moment);
			return moment && shownAt ? [shownAt - moment] : [];
		}),
	};
}

/** A camera that costs this machine next to nothing, which does not stand for the guests' own ones. */
const PLAIN = `{
	${LOOKS_AWAY}
	const canvas = document.createElement('canvas');
	[canvas.width, canvas.height] = [640, 360];
	const context = canvas.getContext('2d');
	const colour = '#' + Math.random().toString(16).slice(2, 8).padEnd(6, '0');
	setInterval(() => {
		context.fillStyle = colour;
		context.fillRect(0, 0, canvas.width, canvas.height);
		context.fillStyle = '#777';
		context.fillRect((performance.now() / 10) % 640, 160, 40, 40);
	}, 1000 / 15);
	navigator.mediaDevices.getUserMedia = async ({ video, audio }) => new MediaStream([
		...(video ? canvas.captureStream(15).getVideoTracks() : []),
		...(audio ? new AudioContext().createMediaStreamDestination().stream.getAudioTracks() : []),
	]);
}`;

/** Ten guests, four of them shown; some of them come and go. */
async function many(demo: Demo, browser: Browser): Promise<Row[]> {
	// Ten that gave way would not come in at all.
	return withDesk(demo, browser, { seats: MANY, guestsGiveWay: false }, async (bench) => {
		const { tell, receiver } = bench;
		const shown = Array.from({ length: SHOWN }, (_, i) => ({
			...wholeLayer(`four-${i}`, `seat-${i + 1}`),
			box: { x: (i % 2) / 2, y: Math.floor(i / 2) / 2, width: 0.5, height: 0.5 },
		}));
		await tell({ type: 'addScene', scene: plainScene('four', 'Four', shown) });
		await tell({ type: 'take', sceneId: 'four' });
		const come = async (i: number) => {
			const guest = await comes(bench, `Guest ${i + 1}`, null, PLAIN);
			await tell({ type: 'placeGuest', guestId: guest.id, seatId: `seat-${i + 1}` });
			return guest;
		};
		for (let i = 0; i < MANY - 1; i++) await come(i);
		await wait(5000);
		const quietFrom = receiver.pictures.length;
		await wait(3 * AROUND_MS);
		const quiet = shareOfDue(receiver.pictures.slice(quietFrom), 30);
		const comingFrom = receiver.pictures.length;
		const last = await come(MANY - 1);
		await wait(AROUND_MS);
		await last.page.close();
		await wait(AROUND_MS);
		const moving = shareOfDue(receiver.pictures.slice(comingFrom), 30);
		const pid = await pidOf(bench.browser);
		const [before, at] = [processorSeconds(pid), performance.now()];
		await wait(WATCHED_S * 1000);
		const cores = (processorSeconds(pid) - before) / ((performance.now() - at) / 1000);
		await tell({ type: 'endBroadcast' });
		await receiver.close();
		return [
			row(`${MANY} guests, ${SHOWN} shown: frames while one comes and goes (while none does)`, moving, '%', {
				yardstick: quiet,
				limit: { least: 1 },
			}),
			row('their desk', cores, 'cores'),
		];
	});
}
