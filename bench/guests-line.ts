/** A guest whose line loses packets and delivers them unevenly: what of their voice and their picture reaches the desk. */
import { chromium, type Browser, type BrowserContext } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { addingSeat } from '../src/core/show/guests/adding.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import { startDemo, type Demo } from '../tests/support/demo.ts';
import { comeAsGuest, guestLink, heardOn } from '../tests/support/guests.ts';
import { onlyByRelay, startRelay } from '../tests/support/relay.ts';
import { openWeakLine } from '../tests/support/weak-line.ts';
import { EVENT, newContext } from './event.ts';
import { row, type Row } from './table.ts';

const LINE = { loses: 0.05, unevenMs: 60 };
/** A line is judged by what comes in some seconds. */
const SETTLES_MS = 15_000;
const HEARD_S = 30;
const RATE = 48_000;
const PIECE = RATE / 100;
/** What is so much softer than the rest is a gap, as a ratio of amplitudes: 20 dB. */
const GAP = 0.1;
/** What is softer than this is no voice: then nothing was measured. */
const LEAST_VOICE = 0.01;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A voice without pauses: harmonics of 150 Hz. A gap in it is one of the line. */
const HUM = `{
	localStorage.setItem('bivvo-guest', JSON.stringify(
		{ name: '', camera: null, microphone: null, outputId: '', looksAt: 'self', volume: 1 }));
	const plain = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
	navigator.mediaDevices.getUserMedia = async ({ video, audio }) => {
		const tracks = video ? (await plain({ video })).getTracks() : [];
		if (audio) {
			const sound = new AudioContext({ sampleRate: ${RATE} });
			const out = sound.createMediaStreamDestination();
			const voice = new OscillatorNode(sound, { type: 'sawtooth', frequency: 150 });
			voice.connect(new GainNode(sound, { gain: 0.2 })).connect(out);
			voice.start();
			await sound.resume();
			tracks.push(...out.stream.getTracks());
		}
		return new MediaStream(tracks);
	};
}`;

/** Sound and pictures as they came to the desk, since the connection was made. */
const RECEIVED = `(async () => {
	let [decoded, emitted, concealed] = [0, 0, 0];
	for (const peer of window.peers)
		for (const report of (await peer.getStats()).values()) {
			if (report.type !== 'inbound-rtp') continue;
			decoded += report.framesDecoded ?? 0;
			emitted += report.totalSamplesReceived ?? 0;
			concealed += report.concealedSamples ?? 0;
		}
	return { decoded, emitted, concealed };
})()`;

/** The longest time for which next to nothing was heard, milliseconds. */
function longestGapMs(sound: Float32Array): number {
	const levels = Array.from({ length: Math.floor(sound.length / PIECE) }, (_, i) =>
		Math.sqrt(sound.subarray(i * PIECE, (i + 1) * PIECE).reduce((sum, value) => sum + value * value, 0) / PIECE),
	);
	const usual = levels.toSorted((a, b) => a - b)[levels.length >> 1]!;
	if (usual < LEAST_VOICE) throw new Error('No voice came to the desk');
	let [longest, now] = [0, 0];
	for (const level of levels) {
		now = level < GAP * usual ? now + 1 : 0;
		longest = Math.max(longest, now);
	}
	return (1000 * longest * PIECE) / RATE;
}

export async function benchGuestsLine(): Promise<Row[]> {
	const relay = await startRelay();
	const line = await openWeakLine(relay.port);
	const demo = await startDemo(undefined, relay.env);
	const [browser, guests] = [await chromium.launch(CHROMIUM), await chromium.launch(CHROMIUM)];
	try {
		return await measure(demo, browser, guests, line, (context, port) => onlyByRelay(context, relay.port, 'udp', port));
	} finally {
		await browser.close();
		await guests.close();
		await demo.close();
		line.close();
		await relay.close();
	}
}

async function measure(
	demo: Demo,
	browser: Browser,
	guests: Browser,
	line: Awaited<ReturnType<typeof openWeakLine>>,
	byRelay: (context: BrowserContext, port?: number) => Promise<void>,
): Promise<Row[]> {
	const context = await newContext(browser);
	await byRelay(context);
	const desk = await context.newPage();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	const { state } = await hub.welcome();
	await hub.applied(hub.do(addingSeat(state, 'seat-1', 'Seat 1', 'camera')));
	const { id, address } = await guestLink(demo, 'Pello Arrizun');
	await comeAsGuest(guests, address, null, {}, async (own) => {
		await byRelay(own, line.port);
		await own.addInitScript(HUM);
	});
	await hub.applied(hub.do({ type: 'placeGuest', guestId: id, seatId: 'seat-1' }));
	await hub.applied(hub.do({ type: 'take', sceneId: 'seat-1-scene' }));
	const received = () => desk.evaluate<{ decoded: number; emitted: number; concealed: number }>(RECEIVED);
	await until('pictures', async () => (await received()).decoded > 0);

	const rows: Row[] = [];
	for (const [name, quality] of [
		['a good line', { loses: 0, unevenMs: 0 }],
		['5 % of the packets lost, 60 ms uneven', LINE],
	] as const) {
		line.be(quality);
		await wait(SETTLES_MS);
		const [before, at] = [await received(), performance.now()];
		const voice = `window.peers.flatMap((peer) => peer.getReceivers()).find(({ track }) => track.kind === 'audio').track`;
		const sound = await heardOn(desk, voice, HEARD_S);
		const after = await received();
		const seconds = (performance.now() - at) / 1000;
		const isWeak = quality === LINE;
		rows.push(
			row(`${name}: longest gap in a voice`, longestGapMs(sound), 'ms', isWeak ? { limit: { most: 60 } } : {}),
			row(
				'its part that had to be made up',
				(100 * (after.concealed - before.concealed)) / (after.emitted - before.emitted),
				'%',
			),
			row('pictures', (after.decoded - before.decoded) / seconds, '1/s', isWeak ? { limit: { least: 15 } } : {}),
		);
	}
	hub.socket.close();
	return rows;
}
