/**
 * Pages in people's hands: how soon a press is in the hall, in the encoded picture, and on a tally light. The picture is held
 * against a key at the desk, which has no server on its way.
 */
import path from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import type { Command } from '../src/core/show/command.ts';
import { plainWordsOverlay } from '../src/core/show/overlays/overlay.ts';
import { CUT } from '../src/core/show/scenes/scene.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { difference, frames, part } from '../tests/support/see.ts';
import { encodedTimes, watchEncoder } from './encoder-watch.ts';
import { EVENT, newContext, prepare, withDemo } from './event.ts';
import { Receiver } from './receiver.ts';
import { median, row, type Row } from './table.ts';

const PRESSES = 24;
const TAKES = 16;
const FRAME_MS = 1000 / 30;
/** Where words stand, in small pictures. */
const FOOT = { x: 10, y: 28, width: 44, height: 7 };
/** Another line changes the foot of a card that stands still by more than this. */
const LINE_DIFFERENCE = 1.5;
/** Another scene changes all of the picture by more than this. */
const CUT_DIFFERENCE = 5;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export async function benchHands(): Promise<Row[]> {
	return withDemo(run);
}

/** Lines without end, each with words of its own. */
const song = {
	...{ kind: 'song' as const, title: 'Carry the Water', authors: [], copyright: '', licence: '', source: '' },
	...{ languages: [''], order: [] },
	sections: Array.from({ length: PRESSES }, (_, i) => ({
		kind: 'verse' as const,
		number: i + 1,
		lines: [[`${'Carry the water '.repeat(1 + (i % 3))}${i}`]],
	})),
};

/** Notes keys as they are pressed, and when what `selector` names becomes another thing, milliseconds since 1970. */
const watching = (selector: string, attribute: string | null) => `{
	window.pressedAt = [];
	window.changedAt = [];
	addEventListener('keydown', (event) => event.key !== 'Shift' && pressedAt.push(performance.timeOrigin + event.timeStamp), true);
	let before = '';
	new MutationObserver(() => {
		const there = document.querySelector('${selector}');
		const now = there ? (${attribute === null ? 'there.textContent' : `there.getAttribute('${attribute}')`}) : '';
		if (now === before) return;
		before = now;
		// When it is drawn, not when it is known.
		requestAnimationFrame(() => changedAt.push(performance.timeOrigin + performance.now()));
	}).observe(document, { subtree: true, childList: true, characterData: true, attributes: true });
}`;
const changedAt = (page: Page) => page.evaluate<number[]>('window.changedAt');

async function run(demo: Demo, browser: Browser): Promise<Row[]> {
	const file = path.join(demo.folder, 'received.flv');
	const receiver = new Receiver(file);
	const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
	await hub.welcome();
	const tell = async (command: Command) => {
		await hub.applied(hub.do(command));
	};
	await prepare(demo, tell, 720, await receiver.listen());
	await tell({ type: 'addWords', item: { id: 'sung', songId: null, song } });
	await tell({ type: 'addOverlay', overlay: { ...plainWordsOverlay('lines', 'Words'), move: 'none' } });
	await tell({ type: 'showOverlay', overlayId: 'lines' });
	await tell({ type: 'setTransition', transition: { ...CUT } });
	await tell({ type: 'take', sceneId: 'thank-you' });
	await tell({ type: 'showWords', itemId: 'sung', step: -1 });

	const desk = await (await newContext(browser)).newPage();
	await desk.goto(`${demo.url}/events/${EVENT}`);
	const encoder = await watchEncoder(desk, 720);
	const hands = await chromium.launch(CHROMIUM);
	try {
		const open = async (what: string, selector: string, attribute: string | null = null) => {
			const context = await newContext(hands);
			await context.addInitScript(watching(selector, attribute));
			await context.addInitScript(`localStorage.setItem('bivvo-camera-${EVENT}', 'lectern')`);
			const page = await context.newPage();
			await page.goto(`${demo.url}/events/${EVENT}${what}`);
			return page;
		};
		const words = await open('/words', 'none');
		const hall = await open('/hall', 'main');
		const tally = await open('/tally', 'main', 'data-tally');
		await wait(3000);
		await tell({ type: 'startBroadcast', broadcastId: 'bench-hands' });
		await until('pictures', () => receiver.pictures.length > 60);

		await words.evaluate('window.pressedAt.length = 0');
		for (let i = 0; i < PRESSES; i++) {
			await words.keyboard.press('Space');
			await wait(700 + ((37 * i) % 200));
		}
		const pressed = await words.evaluate<number[]>('window.pressedAt');
		const seenInHall = await changedAt(hall);

		const taken: number[] = [];
		await tally.evaluate('window.changedAt.length = 0');
		for (let i = 0; i < TAKES; i++) {
			taken.push(performance.timeOrigin + performance.now());
			await tell({ type: 'take', sceneId: i % 2 === 0 ? 'lectern' : 'thank-you' });
			await wait(500);
		}
		const lit = await changedAt(tally);

		// Pages in other hands are on other machines: what is left is the desk's own work.
		await hands.close();
		await wait(1000);
		const pressedElsewhere: number[] = [];
		await tell({ type: 'take', sceneId: 'thank-you' });
		await tell({ type: 'showWords', itemId: 'sung', step: -1 });
		await wait(2000);
		for (let i = 0; i < PRESSES; i++) {
			pressedElsewhere.push(performance.timeOrigin + performance.now());
			await tell({ type: 'nextLine' });
			await wait(700 + ((37 * i) % 200));
		}
		// The same without a server between the key and the picture.
		await desk.evaluate(watching('none', null));
		for (let i = 0; i < TAKES; i++) {
			await desk.keyboard.press(`Shift+Digit${1 + (i % 2)}`);
			await wait(700 + ((37 * i) % 200));
		}
		const pressedAtDesk = await desk.evaluate<number[]>('window.pressedAt');
		await tell({ type: 'endBroadcast' });
		await wait(2000);
		await receiver.close();

		const [times, seen] = [encodedTimes(receiver.pictures, await encoder.encoded()), await frames(file)];
		const foot = (i: number) => part(seen[i]!.luma, FOOT);
		const changes = times.filter((_, i) => i > 0 && seen[i] && difference(foot(i), foot(i - 1)) > LINE_DIFFERENCE);
		const cuts = times.filter(
			(_, i) => i > 0 && seen[i] && difference(seen[i].luma, seen[i - 1]!.luma) > CUT_DIFFERENCE,
		);
		const after = (moments: readonly number[], from: readonly number[]) =>
			from.flatMap((moment) => {
				const found = moments.find((each) => each > moment && each < moment + 650);
				return found === undefined ? [] : [found - moment];
			});
		const [toHall, toEncoded, toTally] = [after(seenInHall, pressed), after(changes, pressed), after(lit, taken)];
		const elsewhere = after(changes, pressedElsewhere);
		return [
			row(`next line: press to hall, median of ${toHall.length} of ${PRESSES}`, median(toHall), 'ms', {
				limit: { most: 100 },
			}),
			row('the same, worst', Math.max(...toHall), 'ms'),
			row(
				`next line: press on another machine to encoded, median of ${elsewhere.length} (a key at the desk)`,
				median(elsewhere) / FRAME_MS,
				'frames',
				{ yardstick: median(after(cuts, pressedAtDesk)) / FRAME_MS, limit: { most: 1.25 } },
			),
			row(
				`the same with three pages on this machine, median of ${toEncoded.length}`,
				median(toEncoded) / FRAME_MS,
				'frames',
			),
			row(`take to tally, median of ${toTally.length} of ${TAKES}`, median(toTally), 'ms', { limit: { most: 100 } }),
			row('the same, worst', Math.max(...toTally), 'ms'),
		];
	} finally {
		await hands.close();
		hub.socket.close();
	}
}
