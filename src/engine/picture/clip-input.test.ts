import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it } from 'vitest';
import { Compositor } from '../../core/picture/compositor.ts';
import { FrameMemory, type KernelExports } from '../../core/picture/planes.ts';
import { plainClip, wholeItem } from '../../core/show/clips/clip.ts';
import { holdingCard } from '../../core/show/delivery/delivery.ts';
import { reduceAll } from '../../core/show/reduce.ts';
import type { Command } from '../../core/show/command.ts';
import { plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';
import { withSetup } from '../../core/show/slice.ts';
import { plainSource } from '../../core/show/sources/source.ts';
import { emptyShow, type Picture, type ShowState } from '../../core/show/state.ts';
import { makeClipMemory, readAnchor, type ClipMemory } from '../sources/clip-memory.ts';
import type { FromClip, ToClip } from '../sources/clip-messages.ts';
import type { PicturePlan } from '../messages.ts';
import type { ClipPort } from './clip-input.ts';
import { PictureEngine, type Output } from './picture-engine.ts';

const SIZE = { width: 64, height: 36 };
const FPS = 30;
const FRAME_MS = 1000 / FPS;
const LENGTH_MS = 2000;
/** Milliseconds since 1970 at the engine's time 0. */
const EPOCH = 1_795_000_000_000;

/** A decoded frame that knows its number in its clip. */
class Frame {
	readonly visibleRect = { x: 0, y: 0, ...SIZE };
	readonly format = 'I420';
	isClosed = false;
	constructor(readonly number: number) {}
	clone(): VideoFrame {
		return new Frame(this.number) as unknown as VideoFrame;
	}
	async copyTo(): Promise<void> {}
	close(): void {
		this.isClosed = true;
	}
}

/** A clip worker that answers when it is told to, with frames of a clip of so many a second. */
class Decoder {
	readonly asked: Extract<ToClip, { type: 'prepare' }>[] = [];
	readonly sent: Frame[] = [];
	reachedMs = 0;
	readonly port: ClipPort = {
		postMessage: (message) => {
			if (message.type === 'prepare') this.asked.push(message);
			else if (message.type === 'reached') this.reachedMs = message.positionMs;
		},
		onmessage: null,
		close: () => {},
	};

	/** Answers the newest request: the frames from its place on, and that it is ready. */
	answer(fps = FPS): void {
		const { run, positionMs, ahead } = this.asked.at(-1)!;
		for (let number = Math.floor((positionMs * fps) / 1000 + 0.01); number < (LENGTH_MS / 1000) * fps; number++) {
			const frame = new Frame(number);
			this.sent.push(frame);
			// WebM rounds its time stamps to milliseconds.
			const at = Math.round((number * 1000) / fps);
			this.#tell({ type: 'frame', run, frame: frame as unknown as VideoFrame, positionMs: Math.max(at, positionMs) });
			if (!ahead) break;
		}
		this.#tell({ type: 'ready', run });
	}

	#tell(data: FromClip): void {
		this.port.onmessage?.({ data } as MessageEvent<FromClip>);
	}
}

const clip = (id: string, ends: 'stand' | 'black' = 'stand') =>
	plainSource(id, id, {
		kind: 'clip',
		...plainClip([wholeItem(id, id, LENGTH_MS)]),
		ends,
	});
const card = (id: string, paper: string) => plainSource(id, id, { kind: 'colour', colour: paper });

let clock: number;
let seen: (number | string)[];
let fell: string[];
let engine: PictureEngine;
let show: ShowState;
let decoder: Decoder;
let memory: ClipMemory;

/** What the encoder got: a clip's frame by its number, all else as `painted`. */
const output = {
	encoders: [
		{ form: { ...SIZE, fps: FPS }, takes: () => true, encode: (frame: unknown) => seen.push(frame as number) > 0 },
	],
	tracks: [],
	encoded: 0,
	hold: () => {},
	end: () => Promise.resolve(),
} as unknown as Output;

function planOf({ setup, live }: ShowState): PicturePlan {
	return {
		...setup,
		...live,
		coming: null,
		line: null,
		comingLine: null,
		languages: 'first',
		forGuests: null,
		hall: { is: 'ground' },
		holding: holdingCard(setup),
	};
}
/** Does commands when the clock stands where it stands, and lets the engine follow. */
function act(...commands: Command[]): void {
	show = reduceAll(show, commands, EPOCH + clock);
	engine.follow(planOf(show));
}
async function runFrames(count: number): Promise<void> {
	for (let i = 0; i < count; i++) {
		clock += FRAME_MS;
		await engine.advance(engine.frameNumber + 1);
	}
}
/** Until an engine has its first idea of the time, and the clip its first frame. */
async function begin(ends: 'stand' | 'black' = 'stand'): Promise<void> {
	const sources = [card('camera', '#808080'), clip('film', ends)];
	const scenes = sources.map(({ id }) => plainScene(id, id, [wholeLayer(`${id}-layer`, id)]));
	show = withSetup(emptyShow('e', 'Lantern Night', '', { ...SIZE, fps: FPS } as unknown as Picture), {
		sources,
		scenes,
	});
	act({
		type: 'take',
		sceneId: 'camera',
		transition: { kind: 'cut', durationMs: 0, direction: 'left', soft: 0, colour: '#000000', curve: 'even' } as never,
	});
	engine.addClip('film', decoder.port, memory);
	decoder.answer();
	engine.startEncoding(output);
	// Right after a take nothing gets ready.
	await runFrames(40);
	seen.length = 0;
}
const CUT = { type: 'setTransition', transition: emptyShow('e', 't', '', {} as never).setup.transition } as const;

beforeEach(() => {
	[clock, seen, fell] = [1000, [], []];
	decoder = new Decoder();
	memory = makeClipMemory();
	const wasm = new WebAssembly.Memory({ initial: 16, maximum: 1024 });
	const module = new WebAssembly.Module(readFileSync('src/core/picture/kernels/build/kernels.wasm'));
	const { exports } = new WebAssembly.Instance(module, { env: { memory: wasm } });
	const compositor = new Compositor(exports as unknown as KernelExports, new FrameMemory(wasm), SIZE);
	const drawing = () => ({ ...SIZE, rgba: new Uint8ClampedArray(4 * 64 * 36), at: { x: 0, y: 0, ...SIZE } });
	engine = new PictureEngine(
		{
			compositor,
			picture: { ...SIZE, fps: FPS } as unknown as Picture,
			drawings: { lowerThird: drawing, ticker: drawing, words: drawing },
			drawnKinds: {
				colour: { ticks: false, stamp: () => 'grey', draw: () => ({ ...SIZE, colour: '#808080' }) },
			},
			frameFrom: () => 'painted' as unknown as VideoFrame,
			frameAt: (frame) => (frame as unknown as Frame).number as unknown as VideoFrame,
			now: () => clock,
			wallClock: () => EPOCH + clock,
			onReport: () => {},
			onFell: (dueId) => fell.push(dueId),
			onRefresh: () => {},
			onProblem: (problem) => expect(problem).toBeUndefined(),
		},
		0,
	);
});

describe('a clip', () => {
	it('shows its first frame with the first frame of the take, then each of its frames once', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		await runFrames(8);
		expect(seen).toEqual([0, 0, 0, 1, 2, 3, 4, 5]);
	});

	it('waits on its first frame until it can be played, and its sound begins with its picture', async () => {
		await begin();
		act(CUT, { type: 'take', sceneId: 'film' });
		await runFrames(5);
		expect(seen).toEqual([0, 0, 0, 0, 0]);
		decoder.answer();
		await runFrames(4);
		expect(seen.slice(5)).toEqual([0, 0, 0, 1]);
		const anchor = { playing: false, sample: 0, position: 0, version: 0 };
		readAnchor(memory, anchor);
		// The frame that showed number 0 for the last time is the one at which the sound begins.
		const frame = engine.frameNumber - 2;
		expect(anchor).toMatchObject({ playing: true, position: 0, sample: (frame * 48_000) / FPS });
	});

	it('that starts with a frame made late stands until its sound, which is further on, can begin with it', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		const due = engine.frameNumber + 4;
		clock += 4 * FRAME_MS;
		while (await engine.advance(due));
		await runFrames(4);
		expect(seen).toEqual([0, 0, 0, 0, 0, 0, 1, 2]);
		const anchor = { playing: false, sample: 0, position: 0, version: 0 };
		readAnchor(memory, anchor);
		expect(anchor).toMatchObject({ playing: true, position: 0, sample: ((due + 1) * 48_000) / FPS });
	});

	it.each([
		[25, [0, 0, 1, 2, 3, 4, 5, 5, 6, 7, 8, 9, 10]],
		[60, [0, 2, 4, 6, 8, 10]],
		[15, [0, 0, 1, 1, 2, 2]],
	])('of %d frames a second comes evenly to the program’s 30', async (fps, wanted) => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer(fps);
		act({ type: 'take' });
		await runFrames(2 + wanted.length);
		expect(seen.slice(2)).toEqual(wanted);
	});

	it('costs nothing while it is neither seen nor next: only its first frame is decoded', async () => {
		await begin();
		expect(decoder.asked.map(({ ahead }) => ahead)).toEqual([false]);
		act({ type: 'setNext', sceneId: 'film' });
		expect(decoder.asked.at(-1)).toMatchObject({ ahead: true, positionMs: 0 });
		decoder.answer();
		act({ type: 'setNext', sceneId: 'camera' });
		expect(decoder.asked.at(-1)).toMatchObject({ ahead: false, positionMs: 0 });
		const waiting = decoder.sent.slice(1);
		expect(waiting.slice(1).every(({ isClosed }) => isClosed)).toBe(true);
	});

	it('stands on its last frame, or ends in black', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		await runFrames(66);
		expect(seen.slice(60)).toEqual([58, 59, 59, 59, 59, 59]);
	});

	it('that ends in black shows its last frame as long as the others', async () => {
		await begin('black');
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		await runFrames(65);
		expect(seen.slice(60)).toEqual([58, 59, 'painted', 'painted', 'painted']);
	});

	it('is paused where it is, and goes on from there', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		await runFrames(12);
		act({ type: 'pauseClip', sourceId: 'film' });
		const { positionMs } = decoder.asked.at(-1)!;
		expect(positionMs).toBeGreaterThan(300);
		decoder.answer();
		await runFrames(3);
		const stood = seen.at(-1) as number;
		expect(seen.slice(-3)).toEqual([stood, stood, stood]);
		act({ type: 'playClip', sourceId: 'film' });
		await runFrames(5);
		expect(seen.slice(-5)).toEqual([stood, stood, stood, stood + 1, stood + 2]);
	});

	it('goes on where it should be by now in an engine that has just started', async () => {
		await begin();
		act(CUT, { type: 'take', sceneId: 'film' });
		// The same show, found a second later by another engine.
		const found = show;
		const again = new Decoder();
		engine.remove('film');
		await runFrames(30);
		engine.addClip('film', again.port, makeClipMemory());
		engine.follow(planOf(found));
		expect(again.asked.at(-1)!.positionMs).toBeGreaterThan(900);
	});
});

describe('what happens by itself', () => {
	const afterFilm = () => reduceAll(show, [{ type: 'take', sceneId: 'camera' }], EPOCH + clock);

	it('comes with the frame after a clip’s last one', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		engine.arm({ dueId: 'follow', at: 0, clipId: 'film', ends: false, plan: planOf(afterFilm()) });
		await runFrames(64);
		expect(seen.slice(59)).toEqual([57, 58, 59, 'painted', 'painted']);
		expect(fell).toEqual(['follow']);
	});

	it('ends a broadcast with a clip’s last frame, whenever its page hears of it; one that does not end it goes on', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		act({ type: 'take' });
		engine.arm({ dueId: 'follow', at: 0, clipId: 'film', ends: true, plan: planOf(show) });
		await runFrames(66);
		expect(seen.slice(58)).toEqual([56, 57, 58, 59]);
		await runFrames(70);
		expect(seen.length).toBeGreaterThan(70);
	});

	it('comes with the first frame that falls due at its time', async () => {
		await begin();
		act(CUT, { type: 'setNext', sceneId: 'film' });
		decoder.answer();
		const then = reduceAll(show, [{ type: 'take' }], EPOCH + clock);
		// Between the fourth and the fifth frame from now on.
		engine.arm({ dueId: 'follow', at: EPOCH + clock + 4.5 * FRAME_MS, clipId: null, ends: false, plan: planOf(then) });
		await runFrames(8);
		expect(seen).toEqual(['painted', 'painted', 'painted', 'painted', 0, 0, 0, 1]);
	});

	it('is not undone by a page that has not heard of it yet', async () => {
		await begin();
		act(CUT);
		const before = planOf(show);
		engine.arm({
			dueId: 'follow',
			at: EPOCH + clock,
			clipId: null,
			ends: false,
			plan: planOf(reduceAll(show, [{ type: 'take', sceneId: 'film' }], EPOCH + clock)),
		});
		await runFrames(2);
		engine.follow({ ...before, title: 'Lantern Night, changed' }, 0);
		engine.arm({ dueId: 'follow', at: 0, clipId: null, ends: false, plan: before }, 0);
		await runFrames(2);
		expect(seen).toEqual([0, 0, 0, 0]);
		// Told of it, a page may say otherwise.
		engine.follow({ ...before, take: { ...before.take, count: before.take.count + 2 } }, 1);
		await runFrames(1);
		expect(seen.at(-1)).toBe('painted');
	});
});
