import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Compositor } from '../../core/picture/compositor.ts';
import { FrameMemory, type KernelExports, type Planes } from '../../core/picture/planes.ts';
import { holdingCard } from '../../core/show/delivery/delivery.ts';
import type { Overlay } from '../../core/show/overlays/overlay.ts';
import { CUT, plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';
import { plainCard } from '../../core/show/sources/kinds/card.ts';
import { plainSource, type Source, type SourceOf } from '../../core/show/sources/source.ts';
import { emptyShow, type Picture } from '../../core/show/state.ts';
import { orderMark, VIEWS, type View } from '../../core/watch/views.ts';
import type { PicturePlan, PictureReport } from '../messages.ts';
import { colour } from '../sources/colour.ts';
import type { DrawnKind } from './drawn-input.ts';
import type { Drawing } from './lazy-drawing.ts';
import { PictureEngine, type Output, type Timing } from './picture-engine.ts';

const SIZE = { width: 64, height: 36 };
const picture = { ...SIZE, fps: 30 } as unknown as Picture;
const FRAMES_A_SECOND = 30;
const FRAME_MS = 1000 / FRAMES_A_SECOND;

/** A camera's frame of one brightness. */
class Frame {
	readonly visibleRect = { x: 0, y: 0, ...SIZE };
	readonly format = 'I420';
	isClosed = false;
	clones: Frame[] = [];
	/** Called while the frame is being copied. */
	onCopy: () => void = () => {};
	/** @param timestamp when it was taken, microseconds */
	constructor(
		readonly luma: number,
		readonly timestamp = 1000 * clock,
	) {}
	async copyTo(memory: Uint8Array, { layout }: { layout: { offset: number }[] }): Promise<void> {
		this.onCopy();
		await Promise.resolve();
		memory.fill(this.luma, layout[0]!.offset, layout[0]!.offset + SIZE.width * SIZE.height);
	}
	clone(): VideoFrame {
		const clone = new Frame(this.luma);
		this.clones.push(clone);
		return clone.asVideoFrame;
	}
	close(): void {
		this.isClosed = true;
	}
	get asVideoFrame(): VideoFrame {
		return this as unknown as VideoFrame;
	}
}

/** What an encoder was given. */
interface Encoded {
	number: number;
	luma: number;
	timestamp: number;
	/** True for a camera's frame as it came, and whether that was closed by then. */
	asItCame: boolean;
	wasClosed: boolean;
}

/** The browser's, as far as monitors need one. */
class Pixels {
	constructor(
		readonly data: Uint8ClampedArray,
		readonly width: number,
	) {}
}
vi.stubGlobal('ImageData', Pixels);

let clock: number;
let encoded: Encoded[];
let reports: PictureReport[];
let problems: unknown[];
let fell: string[];
let refreshes = 0;
let engine: PictureEngine;
let drawFails: boolean;

/** Draws one brightness all over; fails when it is told to. */
const pattern: DrawnKind<SourceOf<'card'>> = {
	ticks: false,
	stamp: ({ card }) => card.paper,
	draw: ({ card }): Drawing => {
		if (drawFails) throw new Error('no canvas');
		const level = parseInt(card.paper.slice(1, 3), 16);
		const rgba = new Uint8ClampedArray(4 * SIZE.width * SIZE.height).map((_, i) => (i % 4 === 3 ? 255 : level));
		return { ...SIZE, rgba, at: { x: 0, y: 0, ...SIZE } };
	},
};

/** An empty seat is dark grey, unless it shows nothing. */
const emptySeat: DrawnKind<SourceOf<'seat'>> = {
	ticks: false,
	draws: ({ empty }) => empty !== 'nothing',
	stamp: () => 'empty',
	draw: () => ({ ...SIZE, colour: '#404040' }),
};

const output: Output = {
	encoders: [
		{
			form: { ...SIZE, fps: 30, kbps: 1000, destinationIds: [] },
			takes: () => true,
			encode: (frame: unknown, number: number) => encoded.push({ number, ...(frame as Omit<Encoded, 'number'>) }) > 0,
		},
	] as unknown as Output['encoders'],
	tracks: [],
	encoded: 0,
	hold: () => {},
	end: () => Promise.resolve(),
};

beforeEach(() => {
	[clock, encoded, reports, problems, fell, drawFails] = [1000, [], [], [], [], false];
	const memory = new WebAssembly.Memory({ initial: 16, maximum: 1024 });
	const module = new WebAssembly.Module(readFileSync('src/core/picture/kernels/build/kernels.wasm'));
	const { exports } = new WebAssembly.Instance(module, { env: { memory } });
	const compositor = new Compositor(exports as unknown as KernelExports, new FrameMemory(memory), SIZE);
	const drawing = (): Drawing => ({
		...SIZE,
		// Half of it is transparent.
		rgba: new Uint8ClampedArray(4 * 64 * 36).map((_, i) => (i % 4 === 3 ? 128 : 255)),
		at: { x: 0, y: 0, ...SIZE },
	});
	const lumaAt = ({ y, width, height }: Planes) => compositor.memory.bytes[y + (height >> 1) * width + (width >> 1)]!;
	engine = new PictureEngine(
		{
			compositor,
			picture,
			drawings: { lowerThird: drawing, ticker: drawing, words: drawing },
			drawnKinds: { card: pattern, colour, seat: emptySeat },
			frameFrom: (planes, { timestamp }: Timing) =>
				({ luma: lumaAt(planes), timestamp, asItCame: false, wasClosed: false }) as unknown as VideoFrame,
			frameAt: (frame, { timestamp }) => {
				const { luma, isClosed } = frame as unknown as Frame;
				return { luma, timestamp, asItCame: true, wasClosed: isClosed } as unknown as VideoFrame;
			},
			now: () => clock,
			wallClock: () => 1_795_000_000_000 + clock,
			onReport: (report) => reports.push(report),
			onFell: (dueId) => fell.push(dueId),
			onRefresh: () => refreshes++,
			onProblem: (problem) => problems.push(problem),
		},
		0,
	);
});

const camera = (id: string) => plainSource(id, id, { kind: 'standInCamera', standIn: id });
const cardOf = (id: string, paper: string) =>
	plainSource(id, id, { kind: 'card', card: plainCard({ dress: 'own', paper }) });
function plan(sources: Source[], program: string, part: Partial<PicturePlan> = {}): PicturePlan {
	const { setup, live } = emptyShow('e', 'Lantern Night', '', picture);
	const scenes = sources.map(({ id }) => plainScene(id, id, [wholeLayer(`${id}-layer`, id)]));
	const take = { count: 0, from: null, transition: CUT, at: 0, calledBack: false };
	return {
		...setup,
		...live,
		sources,
		scenes,
		program,
		take,
		coming: null,
		...{ line: null, comingLine: null, languages: 'first' as const },
		forGuests: null,
		hall: { is: 'ground' },
		holding: holdingCard(setup),
		...part,
	};
}
/** Makes what has fallen due until frame number `seen`, one frame's time after another. */
async function runTo(seen: number): Promise<void> {
	while (engine.frameNumber < seen) {
		clock += FRAME_MS;
		await engine.advance(engine.frameNumber + 1);
	}
}

describe('the picture engine', () => {
	it('encodes a camera’s frames as they come, each under its own time', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		engine.startEncoding(output);
		const input = engine.addLive('lectern');
		for (const luma of [100, 110, 120]) {
			engine.put(input, new Frame(luma).asVideoFrame);
			await runTo(engine.frameNumber + 1);
		}
		expect(encoded.map(({ luma, asItCame }) => [luma, asItCame])).toEqual([
			[100, true],
			[110, true],
			[120, true],
		]);
		expect(encoded.map(({ timestamp }) => timestamp)).toEqual([0, 33_333, 66_667]);
		expect(await engine.advance(3)).toBe(false);
	});

	it('shows who sits in a seat, and what an empty one shows before and after', async () => {
		const seat = (empty: 'name' | 'nothing') =>
			plainSource('seat', 'Seat 1', { kind: 'seat', shows: 'camera', empty, reservedFor: null });
		engine.follow(plan([seat('name')], 'seat'));
		engine.startEncoding(output);
		await runTo(2);
		const input = engine.addLive('seat');
		engine.put(input, new Frame(150).asVideoFrame);
		await runTo(4);
		// Whatever else changes meanwhile.
		engine.follow(plan([seat('name'), camera('lectern')], 'seat'));
		await runTo(5);
		engine.remove('seat');
		await runTo(6);
		const card = encoded[0]!.luma;
		expect(card).toBeGreaterThan(60);
		expect(card).toBeLessThan(90);
		expect(encoded.map(({ luma }) => luma)).toEqual([card, card, 150, 150, 150, card]);
		engine.follow(plan([seat('nothing')], 'seat'));
		await runTo(7);
		expect(encoded.at(-1)!.luma).toBe(16);
		expect(problems).toEqual([]);
	});

	it('finds out that a camera is black, or stands still, which nobody watches', async () => {
		const ids = ['lectern', 'dark', 'frozen'];
		engine.follow(plan(ids.map(camera), 'lectern'));
		const [lectern, dark, frozen] = ids.map((id) => engine.addLive(id));
		for (let i = 0; i < 2 * FRAMES_A_SECOND; i++) {
			engine.put(lectern!, new Frame(100 + (i % 50)).asVideoFrame);
			engine.put(dark!, new Frame(16).asVideoFrame);
			engine.put(frozen!, new Frame(100).asVideoFrame);
			await runTo(engine.frameNumber + 1);
		}
		const faults = reports.at(-1)!.pictures.map(({ sourceId, fault }) => [sourceId, fault]);
		expect(faults).toEqual([
			['lectern', null],
			['dark', 'black'],
			['frozen', 'frozen'],
		]);
	});

	it('tells for how long a source has sent nothing, also one that has never sent anything', async () => {
		engine.follow(plan([camera('lectern'), camera('dead')], 'lectern'));
		const input = engine.addLive('lectern');
		engine.addLive('dead');
		for (let i = 0; i < 2 * FRAMES_A_SECOND; i++) {
			engine.put(input, new Frame(100).asVideoFrame);
			await runTo(engine.frameNumber + 1);
		}
		const { pictures } = reports.at(-1)!;
		expect(pictures).toMatchObject([
			{ sourceId: 'lectern', size: SIZE },
			{ sourceId: 'dead', size: null },
		]);
		expect(pictures[0]!.silentMs).toBeLessThan(100);
		expect(pictures[1]!.silentMs).toBeGreaterThan(1400);
	});

	it('gives copies of what sources show, frame by frame, and leaves out those that show nothing', async () => {
		engine.follow(plan([camera('lectern'), camera('gone')], 'lectern'));
		const input = engine.addLive('lectern');
		const copies = engine.sample(['lectern', 'gone'], 3);
		for (const luma of [100, 110, 120, 130, 140]) {
			engine.put(input, new Frame(luma).asVideoFrame);
			await runTo(engine.frameNumber + 1);
		}
		const [only, ...others] = await copies;
		expect(others).toEqual([]);
		expect(only).toMatchObject({ sourceId: 'lectern', ...SIZE });
		expect(only!.frames.map(([luma]) => luma)).toEqual([100, 110, 120]);
	});

	it('encodes no frame that was closed meanwhile, and closes all that it has cloned', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		engine.startEncoding(output);
		// A monitor of the program, so that the frame is painted before it is encoded.
		const context = { putImageData: () => {} };
		const canvas = { width: 64, height: 36, getContext: () => context } as unknown as OffscreenCanvas;
		engine.monitors.add('program', canvas, { bus: 'program' });
		const input = engine.addLive('lectern');
		const first = new Frame(100);
		first.onCopy = () => engine.remove('lectern');
		engine.put(input, first.asVideoFrame);
		await runTo(1);
		expect(first.isClosed).toBe(true);
		expect(encoded).toMatchObject([{ luma: 100, asItCame: true, wasClosed: false }]);
		expect(first.clones.map(({ isClosed }) => isClosed)).toEqual([true]);
		expect(problems).toEqual([]);
	});

	it('goes on when one frame, or one monitor, cannot be made', async () => {
		drawFails = true;
		engine.follow(plan([cardOf('soon', '#808080')], 'soon'));
		engine.startEncoding(output);
		await runTo(1);
		expect(problems).toHaveLength(1);
		drawFails = false;
		engine.follow(plan([cardOf('soon', '#909090')], 'soon'));
		engine.monitors.add('broken', { width: 64, height: 36, getContext: () => ({}) } as unknown as OffscreenCanvas, {
			sceneId: 'soon',
		});
		await runTo(20);
		expect(problems.length).toBeGreaterThan(1);
		expect(encoded.map(({ number }) => number)).toEqual(Array.from({ length: 19 }, (_, i) => i + 1));
		expect(reports.at(-1)!.due).toBeGreaterThan(15);
	});

	it('shows what it draws itself, and draws it anew when it changes', async () => {
		engine.follow(
			plan([cardOf('soon', '#ffffff'), plainSource('ground', 'Ground', { kind: 'colour', colour: '#000000' })], 'soon'),
		);
		engine.startEncoding(output);
		await runTo(1);
		engine.follow(plan([cardOf('soon', '#000000')], 'soon'));
		await runTo(2);
		expect(encoded.map(({ luma }) => luma)).toEqual([235, 16]);
	});

	it('lays overlays over the program for as long as they are shown', async () => {
		const people = [{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden' }];
		const common = { reach: 'every' as const, showMs: 0, move: 'none' as const };
		const overlays: Overlay[] = [
			{ ...common, id: 'name', name: 'Name', kind: 'lowerThird', personId: 'maren', side: 'left' },
		];
		const ground = plan([cardOf('soon', '#000000')], 'soon', { people, overlays });
		engine.follow(ground);
		engine.startEncoding(output);
		await runTo(1);
		engine.follow({ ...ground, shown: { name: { at: 1_795_000_000_000, count: 1 } } });
		await runTo(2);
		engine.follow(ground);
		await runTo(3);
		const [before, shown, after] = encoded.map(({ luma }) => luma);
		expect([before, after]).toEqual([16, 16]);
		expect(shown).toBeGreaterThan(100);
		expect(shown).toBeLessThan(150);
	});

	it('makes a picture that stays the same once, encodes it all the same, and puts it on each monitor once', async () => {
		const compose = vi.spyOn(Compositor.prototype, 'compose');
		const put = { program: vi.fn(), next: vi.fn() };
		for (const bus of ['program', 'next'] as const) {
			const context = { putImageData: put[bus] };
			const canvas = { width: 32, height: 18, getContext: () => context } as unknown as OffscreenCanvas;
			engine.monitors.add(bus, canvas, { bus });
		}
		const cards = [cardOf('soon', '#808080'), cardOf('over', '#404040')];
		const half = { ...wholeLayer('half', 'over'), box: { x: 0, y: 0, width: 0.5, height: 0.5 } };
		const scenes = [plainScene('both', 'Both', [wholeLayer('whole', 'soon'), half])];
		const show = (part: Partial<PicturePlan> = {}) => plan(cards, 'both', { scenes, next: 'both', ...part });
		engine.follow(show());
		engine.startEncoding(output);
		await runTo(40);
		const made = compose.mock.calls.length;
		const shown = [put.program, put.next].map(({ mock }) => mock.calls.length);
		await runTo(80);
		expect(compose.mock.calls).toHaveLength(made);
		expect([put.program, put.next].map(({ mock }) => mock.calls.length)).toEqual(shown);
		expect(encoded).toHaveLength(80);

		// What changes is made anew, on all of them; and black is not made at all.
		cards[0] = cardOf('soon', '#a0a0a0');
		engine.follow(show());
		await runTo(120);
		expect(encoded.at(-1)!.luma).toBeGreaterThan(encoded[79]!.luma);
		expect([put.program, put.next].map(({ mock }, i) => mock.calls.length > shown[i]!)).toEqual([true, true]);
		engine.follow(show({ black: true }));
		await runTo(160);
		expect(encoded.at(-1)!.luma).toBe(16);
		const black = compose.mock.calls.length;
		await runTo(200);
		expect(compose.mock.calls).toHaveLength(black);
		compose.mockRestore();
	});

	it('draws no monitor that nobody can see, and each as soon as somebody can', async () => {
		let drawn = 0;
		const context = { putImageData: () => drawn++ };
		const canvas = { width: 64, height: 36, getContext: () => context } as unknown as OffscreenCanvas;
		engine.follow(plan([camera('lectern')], 'lectern'));
		const input = engine.addLive('lectern');
		engine.monitors.add('tile', canvas, { sourceId: 'lectern' });
		const pass = async (luma: number) => {
			engine.put(input, new Frame(luma).asVideoFrame);
			await runTo(engine.frameNumber + FRAMES_A_SECOND / 2);
			return drawn;
		};
		refreshes = 0;
		expect(await pass(100)).toBe(1);
		const told = refreshes;
		expect(told).toBeGreaterThan(1);
		engine.monitors.see('tile', false);
		expect(await pass(150)).toBe(1);
		// What else moves on the page is told of monitors that are seen only.
		expect(refreshes).toBe(told);
		engine.monitors.see('tile', true);
		expect(await pass(200)).toBeGreaterThan(1);
	});

	it('makes up for a moment’s disturbance, and for a machine that is always late the newest frame only', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		engine.put(engine.addLive('lectern'), new Frame(100).asVideoFrame);
		engine.startEncoding(output);
		for (let i = 0; i < 4; i++) await engine.advance(4);
		expect(encoded.map(({ number }) => number)).toEqual([0, 1, 2, 3]);
		encoded = [];
		// Each frame takes the time of two.
		for (let seen = 10; seen < 30; seen += 2) {
			clock += 2 * FRAME_MS;
			await engine.advance(seen);
		}
		expect(encoded.slice(-5).map(({ number }) => number)).toEqual([19, 21, 23, 25, 27]);
	});

	it('shows in a frame that is made late what sources showed when it fell due, never what came after', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		const input = engine.addLive('lectern');
		engine.startEncoding(output);
		/** The camera keeps time with the engine: its picture `number` is taken just as the frame before falls due. */
		const take = (number: number) => new Frame(20 + number, 1e6 + (1e6 * number) / 30).asVideoFrame;
		const dueMs = (number: number) => 1000 + FRAME_MS * number;
		for (let number = 0; number < 10; number++) {
			clock = dueMs(number) + 1;
			engine.put(input, take(number));
			// The picture for the next frame is there before this one is made.
			clock = dueMs(number + 1);
			await engine.advance(number + 1);
		}
		// Held up for three frames; all that came meanwhile is taken in at once.
		clock = dueMs(13) + 5;
		for (let number = 10; number < 14; number++) engine.put(input, take(number));
		for (let i = 0; i < 3; i++) await engine.advance(13);
		// And once by less than a frame.
		clock = dueMs(14) + 20;
		engine.put(input, take(14));
		await engine.advance(14);
		expect(encoded.map(({ number }) => number)).toEqual(Array.from({ length: 14 }, (_, i) => i));
		expect(encoded.map(({ luma }) => luma)).toEqual(Array.from({ length: 14 }, (_, i) => 20 + i));
	});

	it('is a frame behind for some seconds at the most when the sound’s clock has stood still', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		const input = engine.addLive('lectern');
		engine.startEncoding(output);
		/** Pictures are numbered by the time at which they are taken, which goes on while the clock of the sound does not. */
		const taken = () => Math.round((clock - 1000) / FRAME_MS);
		const take = () => {
			engine.put(input, new Frame(taken() % 200).asVideoFrame);
			clock += FRAME_MS;
		};
		const step = async () => {
			take();
			await engine.advance(engine.frameNumber + 1);
			return (taken() - 1) % 200;
		};
		const behind: number[] = [];
		const run = async (frames: number) => {
			for (let i = 0; i < frames; i++) {
				const newest = await step();
				behind.push((newest - encoded.at(-1)!.luma + 200) % 200);
			}
			return behind.splice(0);
		};
		expect(await run(90)).toEqual(Array(90).fill(0));
		for (let i = 0; i < 45; i++) take();
		const after = await run(150);
		expect(Math.max(...after)).toBeLessThanOrEqual(1);
		expect(after.slice(-15)).toEqual(Array(15).fill(0));
	});

	it('says when viewers see nothing but black, and when they see something again', async () => {
		engine.follow(plan([camera('lectern')], 'lectern'));
		const input = engine.addLive('lectern');
		const show = async (luma: number, frames: number) => {
			for (let i = 0; i < frames; i++) {
				engine.put(input, new Frame(luma).asVideoFrame);
				await runTo(engine.frameNumber + 1);
			}
			return reports.at(-1)!.blackMs;
		};
		engine.startEncoding(output);
		expect(await show(100, 60)).toBe(0);
		expect(await show(16, 180)).toBeGreaterThan(5000);
		expect(await show(100, 60)).toBe(0);
		await engine.stopEncoding();
		expect(await show(16, 180)).toBe(0);
	});

	it('makes views for who watches: program, Next, the scene for guests, and all scenes on a wall', async () => {
		const papers = ['#202020', '#404040', '#606060', '#808080'];
		const cards = papers.map((paper, i) => cardOf(`card${i}`, paper));
		const sent: Record<string, { luma: number; at: number; order: number }[]> = {};
		const view = (name: View) => ({
			form: VIEWS[name],
			takes: (number: number) => number % 2 === 0,
			encode: (frame: unknown, at: number, order = 0) =>
				void (sent[name] ??= []).push({ luma: (frame as Encoded).luma, at, order }),
		});
		engine.follow(plan(cards, 'card0', { next: 'card1', forGuests: 'card2', hall: { is: 'scene', sceneId: 'card3' } }));
		engine.beWatched({
			program: view('program'),
			next: view('next'),
			forGuests: view('forGuests'),
			hall: view('hall'),
			wall: view('wall'),
		});
		await runTo(20);
		expect(problems).toEqual([]);
		const last = (name: View) => sent[name]!.at(-1)!;
		const lumaOf = (paper: string) => Math.round(16 + (219 * parseInt(paper.slice(1, 3), 16)) / 255);
		expect(['program', 'next', 'forGuests', 'hall'].map((name) => last(name as View).luma)).toEqual(papers.map(lumaOf));
		// Four scenes, two by two: the pixel in the middle is the first of the fourth.
		expect(last('wall')).toMatchObject({ luma: lumaOf(papers[3]!), order: orderMark(cards.map(({ id }) => id)) });
		expect(last('program').at - sent.program!.at(-2)!.at).toBeCloseTo(2 * FRAME_MS, 0);

		// Another order of scenes begins on black, and says so.
		engine.follow(plan(cards.slice(0, 1), 'card0'));
		await runTo(24);
		expect(last('wall')).toMatchObject({ luma: lumaOf(papers[0]!), order: orderMark(['card0']) });
		const before = [sent.wall!.length, sent.forGuests!.length];
		engine.beWatched({ program: view('program') });
		await runTo(30);
		expect([sent.wall!.length, sent.forGuests!.length]).toEqual(before);
	});
});
