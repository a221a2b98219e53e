/** An evening's heaviest picture, played as an evening is: four cameras, three layers with a key and a clip, overlays, fades. */
import type { Browser, Page } from '@playwright/test';
import { plainScene, wholeLayer, CUT } from '../src/core/show/scenes/scene.ts';
import type { Command } from '../src/core/show/command.ts';
import { plainCard } from '../src/core/show/sources/kinds/card.ts';
import { plainSource } from '../src/core/show/sources/source.ts';
import type { Picture, ShowState } from '../src/core/show/state.ts';
import { Page as HubPage, until } from '../tests/support/app.ts';
import type { Demo } from '../tests/support/demo.ts';
import { EVENT, newContext, prepare } from './event.ts';
import { Receiver } from './receiver.ts';

const FADE_EVERY_MS = 5000;

/** What the event has beyond the demo's: a fourth camera, a logo, and two scenes of three layers. */
const MORE: Command[] = [
	{ type: 'removeSource', sourceId: 'flash' },
	{
		type: 'addSource',
		source: plainSource('gallery', 'Gallery', { kind: 'standInCamera', standIn: 'choir-left' }),
	},
	{
		type: 'addSource',
		source: plainSource('mark', 'Mark', {
			kind: 'card',
			card: plainCard({
				dress: 'own',
				lines: [{ says: 'text', text: 'HFHA' }],
				paper: '#f0a830',
				ink: '#12161c',
			}),
		}),
	},
	{
		type: 'addOverlay',
		overlay: {
			id: 'logo',
			name: 'Logo',
			kind: 'picture',
			reach: 'every',
			showMs: 0,
			move: 'fade',
			sourceId: 'mark',
			box: { x: 0.86, y: 0.04, width: 0.1, height: 0.1 },
			fit: 'fit',
		},
	},
	...['lectern', 'choir-left'].map((front, i): Command => ({
		type: 'addScene',
		scene: plainScene(`layers-${i}`, `Layers ${i + 1}`, [
			wholeLayer('behind', i === 0 ? 'chapel-wide' : 'gallery'),
			{
				...wholeLayer('keyed', front),
				box: { x: 0, y: 0.3, width: 0.7, height: 0.7 },
				key: { by: 'colour', colour: '#3a3026', tolerance: 0.12, softness: 0.1, spill: 0.2 },
			},
			// The film of the evening plays in a corner.
			{ ...wholeLayer('corner', 'season-on-the-fell'), box: { x: 0.68, y: 0.5, width: 0.28, height: 0.28 } },
		]),
	})),
];

/** What the sources of that picture are read from; the choir's is there twice. */
export const HEAVY_SOURCES = [
	'lectern.mp4',
	'chapel-wide.mp4',
	'choir-left.mp4',
	'choir-left.mp4',
	'season-on-the-fell.mp4',
];

export class HeavyEvening {
	readonly receiver: Receiver;
	readonly hub: HubPage;
	readonly #browser: Browser;
	readonly #demo: Demo;

	private constructor(demo: Demo, browser: Browser, hub: HubPage, file: string) {
		this.#demo = demo;
		this.#browser = browser;
		this.hub = hub;
		this.receiver = new Receiver(file);
	}

	/** @param file where what the host gets is written to */
	static async prepare(demo: Demo, browser: Browser, picture: Picture, file: string): Promise<HeavyEvening> {
		const hub = new HubPage(Number(new URL(demo.url).port), EVENT);
		await hub.welcome();
		const evening = new HeavyEvening(demo, browser, hub, file);
		await prepare(demo, evening.tell, picture.height, await evening.receiver.listen());
		for (const command of [{ type: 'setPicture', picture } as const, ...MORE]) await evening.tell(command);
		return evening;
	}

	tell = (command: Command) => this.hub.applied(this.hub.do(command));

	/** The show as it is now. */
	async state(): Promise<ShowState> {
		const hub = new HubPage(Number(new URL(this.#demo.url).port), EVENT);
		const { state } = await hub.welcome();
		hub.socket.close();
		return state;
	}

	async open(path = ''): Promise<Page> {
		const page = await (await newContext(this.#browser)).newPage();
		await page.goto(`${this.#demo.url}/events/${EVENT}${path}`);
		return page;
	}

	/** On air until it is ended, with the first of the two scenes. */
	async begin(page: Page): Promise<void> {
		await page.waitForTimeout(3000);
		await this.tell({ type: 'take', sceneId: 'layers-0', transition: { ...CUT } });
		await this.tell({ type: 'setTransition', transition: { ...CUT, kind: 'fade', durationMs: 500 } });
		await this.tell({ type: 'startBroadcast', broadcastId: 'evening' });
		await until('pictures', () => this.receiver.pictures.length > 60);
		await this.tell({ type: 'showOverlay', overlayId: 'logo' });
	}

	/** @returns what the host got meanwhile */
	async play(page: Page, seconds: number): Promise<Receiver['pictures']> {
		const from = this.receiver.pictures.length;
		const startedAt = performance.now();
		for (let i = 1; performance.now() - startedAt < seconds * 1000; i++) {
			await this.tell({ type: 'showOverlay', overlayId: 'name' });
			await this.tell({ type: 'take', sceneId: `layers-${i % 2}` });
			await page.waitForTimeout(FADE_EVERY_MS);
		}
		return this.receiver.pictures.slice(from);
	}

	async end(page: Page): Promise<void> {
		await this.tell({ type: 'endBroadcast' });
		await page.waitForTimeout(1500);
		await this.receiver.close();
		await page.close();
		this.hub.socket.close();
	}
}
