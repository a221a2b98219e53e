import { describe, expect, it } from 'vitest';
import type { Stage } from '../../core/picture/draw-list.ts';
import { holdingCard } from '../../core/show/delivery/delivery.ts';
import { WHOLE } from '../../core/show/basics.ts';
import type { Overlay } from '../../core/show/overlays/overlay.ts';
import { CUT, plainScene, wholeLayer, type Transition } from '../../core/show/scenes/scene.ts';
import { emptyShow } from '../../core/show/state.ts';
import { codecOf } from './encode.ts';
import type { PicturePlan } from '../messages.ts';
import { OverlayMoves } from './overlay-moves.ts';
import { Program } from './program.ts';

const PICTURE = { width: 1280, height: 720, fps: 30 } as const;
const stage: Stage = {
	picture: PICTURE,
	pictureOf: () => ({ ...PICTURE, alpha: false }),
	framing: () => WHOLE,
	background: null,
};
const scenes = ['a', 'b', 'c'].map((id) => plainScene(id, id, [wholeLayer(`${id}-layer`, id)]));
const bare = emptyShow('lantern-night', 'Lantern Night', '', PICTURE);
const empty: PicturePlan = {
	...bare.setup,
	...bare.live,
	coming: null,
	...{ line: null, comingLine: null, languages: 'first' as const },
	forGuests: null,
	hall: { is: 'ground' },
	holding: holdingCard(bare.setup),
};

function plan(program: string, count: number, from: string | null, transition: Transition): PicturePlan {
	return { ...empty, scenes, program, take: { count, from, transition, at: 0, calledBack: false } };
}
const FADE: Transition = { ...CUT, kind: 'fade', durationMs: 500 };
/** The weight of the second scene while two are mixed, or the pictures of the one that is there. */
function seen(program: Program, frame: number): number | string[] {
	const { base } = program.list(frame, stage, () => null);
	if ('steps' in base) return base.steps.map((step) => (step.step === 'blit' ? step.pictureId : ''));
	return base.joined.way === 'mix' ? base.joined.weight : NaN;
}
/** The pictures of the scenes that are mixed, from the one that is left to the one that comes. */
function mixed(program: Program, frame: number): string[] {
	const { base } = program.list(frame, stage, () => null);
	if (!('joined' in base)) return [];
	return [...base.from, ...base.to].map((step) => (step.step === 'blit' ? step.pictureId : ''));
}
function running(...plans: [PicturePlan, number][]): Program {
	const program = new Program(PICTURE);
	for (const [each, frame] of plans) program.follow(each, frame, 0);
	return program;
}

describe('the program', () => {
	it('fades for as long as was asked, every frame a step further, the first one at once', () => {
		const program = running([plan('a', 0, null, CUT), 0], [plan('b', 1, 'a', FADE), 10]);
		const weights = Array.from({ length: 15 }, (_, i) => seen(program, 10 + i) as number);
		expect(weights[0]).toBeGreaterThan(0);
		expect(weights).toEqual([...weights].sort((x, y) => x - y));
		expect(new Set(weights).size).toBe(15);
		expect(seen(program, 25)).toEqual(['b']);
	});

	it('cuts with the next frame', () => {
		const program = running([plan('a', 0, null, CUT), 0], [plan('b', 1, 'a', CUT), 10]);
		expect(seen(program, 10)).toEqual(['b']);
	});

	it('does not play a take of before a reload again', () => {
		expect(seen(running([plan('b', 7, 'a', FADE), 0]), 0)).toEqual(['b']);
	});

	it('is not disturbed by changes that are no takes', () => {
		const program = running([plan('a', 0, null, CUT), 0], [plan('b', 1, 'a', FADE), 10]);
		const half = seen(program, 17);
		program.follow({ ...plan('b', 1, 'a', FADE), next: 'a' }, 17, 0);
		expect(seen(program, 17)).toEqual(half);
	});

	it('goes back the way it came when a take is called back half way', () => {
		const program = running([plan('a', 0, null, CUT), 0], [plan('b', 1, 'a', FADE), 10]);
		const half = seen(program, 17) as number;
		const back = plan('a', 2, 'b', FADE);
		program.follow({ ...back, take: { ...back.take, calledBack: true } }, 18, 0);
		const weights = Array.from({ length: 7 }, (_, i) => seen(program, 18 + i) as number);
		expect(weights[0]).toBeLessThan(half);
		expect(weights).toEqual([...weights].sort((x, y) => y - x));
		expect(seen(program, 26)).toEqual(['a']);
	});

	it('follows the hand lever, stops with it half way, and is there at its end without a jump', () => {
		const program = running([{ ...plan('a', 0, null, FADE), next: 'b' }, 0]);
		const lever = (position: number) => ({ ...plan('a', 0, null, FADE), next: 'b', transition: FADE, lever: position });
		program.follow(lever(0.5), 10, 0);
		for (let frame = 10; frame < 30; frame++) seen(program, frame);
		expect(seen(program, 30)).toBe(128);
		expect(seen(program, 60)).toBe(128);
		program.follow(lever(0.99), 61, 0);
		for (let frame = 61; frame < 80; frame++) seen(program, frame);
		expect(seen(program, 80)).toBeGreaterThan(250);
		program.follow({ ...plan('b', 1, 'a', CUT), next: 'a' }, 81, 0);
		expect(seen(program, 81)).toEqual(['b']);
	});

	it('goes on from where the lever is when Next is taken, and leaves what is seen more for a third scene', () => {
		const program = running([{ ...plan('a', 0, null, FADE), next: 'b' }, 0]);
		const half = { ...plan('a', 0, null, FADE), next: 'b', transition: FADE, lever: 0.75 };
		program.follow(half, 10, 0);
		for (let frame = 10; frame < 30; frame++) seen(program, frame);
		expect(seen(program, 30)).toBe(192);
		program.follow({ ...plan('b', 1, 'a', FADE), next: 'a' }, 31, 0);
		const weights = Array.from({ length: 3 }, (_, i) => seen(program, 31 + i) as number);
		expect(weights[0]).toBeGreaterThan(192);
		expect(weights).toEqual([...weights].sort((x, y) => x - y));

		const third = running([{ ...plan('a', 0, null, FADE), next: 'b' }, 0]);
		third.follow(half, 10, 0);
		for (let frame = 10; frame < 30; frame++) seen(third, frame);
		third.follow({ ...plan('c', 1, 'a', FADE), next: 'b' }, 31, 0);
		expect(mixed(third, 31)).toEqual(['b', 'c']);
	});

	it('glides to make room when somebody comes to a scene of all guests; other scenes change at once', () => {
		const half = { ...wholeLayer('a-layer', 'a'), box: { x: 0, y: 0, width: 0.5, height: 1 }, fit: 'fill' as const };
		const widthAt = (frame: number, gathers: boolean) => {
			const [before, after] = [scenes[0]!.layers, [half]].map((layers) => ({
				...plan('a', 0, null, CUT),
				scenes: [{ ...scenes[0]!, gathers, layers }],
			})) as [PicturePlan, PicturePlan];
			const { base } = running([before, 0], [after, 10]).list(frame, stage, () => null);
			const blit = 'steps' in base ? base.steps.find(({ step }) => step === 'blit') : undefined;
			return blit?.step === 'blit' ? blit.to.width : NaN;
		};
		const [first, middle, last] = [10, 17, 25].map((frame) => widthAt(frame, true)) as [number, number, number];
		expect(first).toBeGreaterThan(1200);
		expect(middle).toBeGreaterThan(700);
		expect(middle).toBeLessThan(1200);
		expect(last).toBe(640);
		expect(widthAt(10, false)).toBe(640);
	});

	it('goes black over everything and comes back', () => {
		const program = running([plan('a', 0, null, CUT), 0]);
		const black = (frame: number) => program.list(frame, stage, () => null).black;
		program.follow({ ...plan('a', 0, null, CUT), black: true }, 1, 0);
		const rising = Array.from({ length: 12 }, (_, i) => black(1 + i));
		expect(rising[0]).toBeGreaterThan(0);
		expect(rising.at(-1)).toBe(256);
		program.follow(plan('a', 0, null, CUT), 13, 0);
		expect(Array.from({ length: 12 }, (_, i) => black(13 + i)).at(-1)).toBe(0);
	});
});

describe('overlays', () => {
	const overlay = (part: Partial<Overlay>): Overlay =>
		({
			id: 'name',
			name: 'Who is speaking',
			kind: 'lowerThird',
			reach: 'every',
			showMs: 0,
			move: 'rise',
			personId: 'maren',
			side: 'left',
			...part,
		}) as Overlay;
	/** Shown at a time, so often so far. */
	const shown = (at: number, count = 1) => ({ name: { at, count } });
	const presence = (moves: OverlayMoves, frame: number) => moves.shown(frame)[0]?.presence ?? 0;

	it('come in, stay, and go when they are hidden', () => {
		const moves = new OverlayMoves(30);
		moves.follow([overlay({})], {}, 0, 0);
		expect(presence(moves, 5)).toBe(0);
		moves.follow([overlay({})], shown(0, 1), 10, 0);
		expect(presence(moves, 10)).toBeGreaterThan(0);
		expect(presence(moves, 10)).toBeLessThan(0.2);
		expect(presence(moves, 19)).toBe(1);
		expect(presence(moves, 900)).toBe(1);
		moves.follow([overlay({})], {}, 901, 0);
		expect(presence(moves, 904)).toBeGreaterThan(0);
		expect(presence(moves, 904)).toBeLessThan(1);
		expect(presence(moves, 911)).toBe(0);
	});

	it('go by themselves when their time is up, and begin anew when they are shown again', () => {
		const moves = new OverlayMoves(30);
		moves.follow([], {}, 0, 0);
		moves.follow([overlay({ showMs: 2000 })], shown(0, 1), 0, 0);
		expect([presence(moves, 30), presence(moves, 59), presence(moves, 70)]).toEqual([1, 1, 0]);
		moves.follow([overlay({ showMs: 2000 })], shown(9, 2), 100, 0);
		expect(presence(moves, 115)).toBe(1);
	});

	it('can be hidden before their time is up', () => {
		const moves = new OverlayMoves(30);
		moves.follow([], {}, 0, 0);
		moves.follow([overlay({ showMs: 8000 })], shown(0, 1), 0, 0);
		moves.follow([overlay({ showMs: 8000 })], {}, 60, 0);
		expect(presence(moves, 75)).toBe(0);
	});

	it('come in anew when they were hidden and are shown again', () => {
		const moves = new OverlayMoves(30);
		moves.follow([], {}, 0, 0);
		moves.follow([overlay({ showMs: 2000 })], shown(0), 0, 0);
		moves.follow([overlay({ showMs: 2000 })], {}, 60, 0);
		moves.follow([overlay({ showMs: 2000 })], shown(9000), 300, 0);
		expect([presence(moves, 299), presence(moves, 315), presence(moves, 375)]).toEqual([0, 1, 0]);
	});

	it('that were shown before the engine began are there without moving in', () => {
		const moves = new OverlayMoves(30);
		moves.follow([overlay({})], shown(1000, 4), 0, 61_000);
		expect(presence(moves, 0)).toBe(1);
	});
});

describe('encoding', () => {
	it('names the level that holds the picture', () => {
		const level = (width: number, height: number, fps: number) =>
			codecOf({ width, height, fps } as typeof PICTURE).slice(-2);
		expect([level(1280, 720, 30), level(1280, 720, 60), level(1920, 1080, 30), level(1920, 1080, 60)]).toEqual([
			'1f',
			'20',
			'28',
			'2a',
		]);
	});
});
