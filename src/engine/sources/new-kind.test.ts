/** A new kind of source is its own folder and a line in each registry: nothing else has to know of it. */
import { readFileSync } from 'node:fs';
import * as v from 'valibot';
import { describe, expect, it, vi } from 'vitest';
import type * as Kinds from '../../core/show/sources/kinds.ts';

vi.mock('../../core/show/sources/kinds.ts', async (original) => {
	const { MADE_PICTURE } = await import('../../core/show/sources/kind.ts');
	const { wholeWithin } = await import('../../core/show/basics.ts');
	const { KINDS } = await original<typeof Kinds>();
	// Its folder in the core: one number, and a picture that is made.
	const testPattern = { ...MADE_PICTURE, fields: { level: wholeWithin(0, 255) }, canHold: true };
	return { KINDS: { ...KINDS, testPattern } };
});

const { Compositor } = await import('../../core/picture/compositor.ts');
const { FrameMemory } = await import('../../core/picture/planes.ts');
const { pageCommandSchema } = await import('../../core/show/command.ts');
const { holdingCard } = await import('../../core/show/delivery/delivery.ts');
const { planTracks } = await import('../../core/show/delivery/tracks.ts');
const { reduceAll } = await import('../../core/show/reduce.ts');
const { plainScene, wholeLayer } = await import('../../core/show/scenes/scene.ts');
const { showStateSchema } = await import('../../core/show/show-schema.ts');
const { addingSource } = await import('../../core/show/sources/adding.ts');
const { withSetup } = await import('../../core/show/slice.ts');
const { emptyShow } = await import('../../core/show/state.ts');
const { PictureEngine } = await import('../picture/picture-engine.ts');
const { SourceKeeper } = await import('../source-keeper.ts');

const SIZE = { width: 64, height: 36 };
const source = {
	...{ id: 'pattern', name: 'Test pattern', kind: 'testPattern', level: 200 },
	...{ framings: [], adjust: { brightness: 0, contrast: 1, saturation: 1, gamma: 1, grey: { u: 0, v: 0 } } },
} as never;
const empty = emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const scene = plainScene('scene', 'Test pattern', [wholeLayer('layer', 'pattern')]);
const show = reduceAll(empty, [addingSource(empty, source, { scenes: [scene] })], 1);

/** Its folder in the engine. */
const testPattern = {
	ticks: false,
	stamp: ({ level }: { level: number }) => String(level),
	draw: ({ level }: { level: number }) => ({ ...SIZE, colour: `#${level.toString(16).repeat(3)}` }),
};

describe('a new kind of source', () => {
	it('is stored, checked, added with its scene, and answers for itself', () => {
		expect(v.safeParse(showStateSchema, JSON.parse(JSON.stringify(show))).success).toBe(true);
		expect(show.live.next).toBe('scene');
		const wrong = { type: 'addSource', source: { ...(source as object), level: 300 } };
		expect(v.safeParse(pageCommandSchema, wrong).success).toBe(false);
		const chosen = { ...show.setup.delivery, holdingId: 'pattern', apart: { sourceIds: ['pattern'], channelIds: [] } };
		const { setup } = withSetup(show, { delivery: chosen });
		expect(holdingCard(setup).id).toBe('pattern');
		expect(planTracks(setup)).toEqual([]);
	});

	it('is live at once, and is what viewers see', async () => {
		const conditions: string[] = [];
		const keeper = new SourceKeeper({
			kinds: {},
			context: { picture: SIZE } as never,
			showPicture: () => 0,
			hidePicture: () => {},
			split: () => ({ disconnect: () => {} }),
			onSound: () => {},
			onConditions: (all) => conditions.push(all.get('pattern')!.state),
			now: () => 0,
		});
		keeper.follow(show.setup.sources);
		expect(conditions.at(-1)).toBe('live');

		const memory = new WebAssembly.Memory({ initial: 16, maximum: 256 });
		const module = new WebAssembly.Module(readFileSync('src/core/picture/kernels/build/kernels.wasm'));
		const { exports } = new WebAssembly.Instance(module, { env: { memory } });
		const compositor = new Compositor(exports as never, new FrameMemory(memory), SIZE);
		const luma: number[] = [];
		const engine = new PictureEngine(
			{
				compositor,
				picture: { ...SIZE, fps: 30 } as never,
				drawings: {
					lowerThird: () => undefined as never,
					ticker: () => undefined as never,
					words: () => undefined as never,
				},
				drawnKinds: { testPattern } as never,
				frameFrom: ({ y }) => compositor.memory.bytes[y] as never,
				frameAt: (frame) => frame,
				now: () => 1,
				wallClock: () => 1,
				onReport: () => {},
				onFell: () => {},
				onRefresh: () => {},
				onProblem: (problem) => expect(problem).toBeUndefined(),
			},
			0,
		);
		engine.follow({
			...show.setup,
			...show.live,
			program: 'scene',
			coming: null,
			...{ line: null, comingLine: null, languages: 'first' as const },
			forGuests: null,
			hall: { is: 'ground' },
			holding: holdingCard(show.setup),
		});
		engine.startEncoding({
			encoders: [{ form: SIZE, takes: () => true, encode: (frame: number) => luma.push(frame) > 0 }] as never,
			tracks: [],
			encoded: 0,
			hold: () => {},
			end: () => Promise.resolve(),
		});
		await engine.advance(1);
		// ITU-R BT.709, limited range: 16 + 219 · 200 / 255.
		expect(luma).toEqual([188]);
	});
});
