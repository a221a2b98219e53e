import { beforeEach, describe, expect, it, vi } from 'vitest';
import { plainChannel } from '../core/show/mix/mix.ts';
import { withLive, withSetup } from '../core/show/slice.ts';
import { plainSource } from '../core/show/sources/source.ts';
import { emptyShow } from '../core/show/state.ts';
import { MixRouter } from './mix-router.ts';
import type { ToMix } from './mix.worklet.ts';
import { EngineFailure } from './trouble.ts';

/** Web Audio as far as the router needs it. */
class Merger {
	connect = vi.fn();
	disconnect = vi.fn();
}
vi.stubGlobal('ChannelMergerNode', Merger);

let posted: ToMix[];
let router: MixRouter;
const splitter = { connect: vi.fn(), numberOfOutputs: 2 };
const show = withSetup(emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }), {
	sources: [plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' })],
	channels: [plainChannel('mic', 'console', 'Mic', [0]), plainChannel('gone', 'other', 'Gone')],
});

beforeEach(() => {
	posted = [];
	const node = { port: { postMessage: (message: ToMix) => posted.push(message) } };
	router = new MixRouter({} as AudioContext, node as unknown as AudioWorkletNode, (sourceId) =>
		sourceId === 'console' ? (splitter as unknown as ChannelSplitterNode) : null,
	);
	router.follow(show);
});

describe('the router of the mix', () => {
	it('posts a plan once, and again when something in it is another', () => {
		const plans = () => posted.filter(({ type }) => type === 'plan').length;
		expect(plans()).toBe(1);
		router.follow({ ...show });
		expect(plans()).toBe(1);
		router.follow(withLive(show, { hushed: true }));
		expect(plans()).toBe(2);
	});

	it('answers what was captured, and fails what is still asked for when the engine is closed', async () => {
		const first = router.capture(['mic'], 1);
		const { id } = posted.find((message) => message.type === 'capture')!;
		router.handleCaptured({ type: 'captured', id, startSample: 48_000, sounds: [] });
		expect(await first).toEqual({ startMs: 1000, sounds: [] });
		const second = router.capture(['mic'], 1);
		router.close();
		await expect(second).rejects.toMatchObject({ trouble: { code: 'closed' } });
		expect(() => router.capture(['gone'], 1)).toThrow(EngineFailure);
	});
});
