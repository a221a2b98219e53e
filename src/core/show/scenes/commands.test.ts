import { describe, expect, it } from 'vitest';
import { batchOf, type Command } from '../command.ts';
import type { RefusalMessage } from '../../refusal.ts';
import { isShown, type Overlay } from '../overlays/overlay.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { CUT, plainScene, wholeLayer, type Scene } from './scene.ts';
import { plainSource } from '../sources/source.ts';
import { openShow } from '../stored.ts';
import { emptyShow, type ShowState } from '../state.ts';

const AT = 1_795_000_000_000;
const camera = (id: string): Command =>
	batchOf([
		{ type: 'addSource', source: plainSource(id, id, { kind: 'standInCamera', standIn: id }) },
		{ type: 'addScene', scene: plainScene(`${id}-scene`, id, [wholeLayer(`${id}-layer`, id)]) },
	]);
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const show = reduceAll(empty, [camera('lectern'), camera('wide')], AT);
const onAir = after(show, { type: 'take', sceneId: 'lectern-scene' }, { type: 'startBroadcast', broadcastId: 'b' });

function after(state: ShowState, ...commands: Command[]): ShowState {
	return reduceAll(state, commands, AT);
}
function refusal(state: ShowState, command: Command): RefusalMessage['code'] | null {
	const outcome = tryReduce(state, command, AT);
	return 'refused' in outcome ? outcome.refused.code : null;
}
const scene = (state: ShowState, id: string): Scene => state.setup.scenes.find((each) => each.id === id)!;
const changed = (live: boolean): Command => ({
	type: 'changeScene',
	scene: { ...scene(show, 'lectern-scene'), layers: [wholeLayer('other', 'wide')] },
	live,
});

describe('changing a scene', () => {
	it('off air, or in a scene that is not the program, is done at once', () => {
		expect(scene(after(show, changed(false)), 'lectern-scene').layers[0]!.sourceId).toBe('wide');
		const other = after(onAir, { type: 'take', sceneId: 'wide-scene' }, changed(false));
		expect(scene(other, 'lectern-scene').layers[0]!.sourceId).toBe('wide');
		expect(other.live.drafts).toEqual([]);
	});

	it('on air waits for the next take, which brings it whole', () => {
		const waiting = after(onAir, changed(false));
		expect(scene(waiting, 'lectern-scene')).toEqual(scene(show, 'lectern-scene'));
		expect(waiting.live.drafts.map(({ id }) => id)).toEqual(['lectern-scene']);
		const taken = after(waiting, { type: 'take', sceneId: 'lectern-scene' });
		expect(scene(taken, 'lectern-scene').layers[0]!.sourceId).toBe('wide');
		expect(taken.live).toMatchObject({ drafts: [], program: 'lectern-scene', previous: null });
		expect(taken.live.take.count).toBe(waiting.live.take.count + 1);
		expect(after(waiting, { type: 'dropDraft', sceneId: 'lectern-scene' }).live.drafts).toEqual([]);
	});

	it('on air is seen at once only when it was asked to be live', () => {
		expect(scene(after(onAir, changed(true)), 'lectern-scene').layers[0]!.sourceId).toBe('wide');
	});

	it('that shows nowhere in the picture does not wait', () => {
		const renamed: Command = {
			type: 'changeScene',
			scene: { ...scene(show, 'lectern-scene'), name: 'Talk' },
			live: false,
		};
		expect(scene(after(onAir, renamed), 'lectern-scene').name).toBe('Talk');
	});

	it('is refused while it is locked, but for the unlocking', () => {
		const lock = (locked: boolean): Command => ({
			type: 'changeScene',
			scene: { ...scene(show, 'lectern-scene'), locked },
			live: false,
		});
		const locked = after(show, lock(true));
		const edit: Command = { ...changed(false), scene: { ...scene(locked, 'lectern-scene'), layers: [] } } as Command;
		expect(refusal(locked, edit)).toBe('locked');
		expect(refusal(locked, { type: 'removeScene', sceneId: 'lectern-scene' })).toBe('locked');
		expect(scene(after(locked, lock(false)), 'lectern-scene').locked).toBe(false);
	});

	it('is refused when it uses a source that is gone', () => {
		const scene: Scene = plainScene('new', 'New', [wholeLayer('l', 'gone')]);
		expect(refusal(show, { type: 'addScene', scene })).toBe('sourceMissing');
	});
});

describe('the list of scenes', () => {
	it('can be added to, reordered and brought back after a deletion', () => {
		const made = after(show, { type: 'addScene', scene: plainScene('talk', 'Talk', []), at: 1 });
		expect(made.setup.scenes.map(({ id }) => id)).toEqual(['lectern-scene', 'talk', 'wide-scene']);
		const moved = after(made, { type: 'moveScene', sceneId: 'talk', at: 2 });
		expect(moved.setup.scenes.map(({ id }) => id)).toEqual(['lectern-scene', 'wide-scene', 'talk']);
		const removed = after(moved, { type: 'removeScene', sceneId: 'talk' });
		expect(after(removed, { type: 'addScene', scene: scene(moved, 'talk'), at: 2 }).setup.scenes).toEqual(
			moved.setup.scenes,
		);
	});

	it('keeps the scene that is on air', () => {
		expect(refusal(onAir, { type: 'removeScene', sceneId: 'lectern-scene' })).toBe('onAir');
	});
});

describe('transitions', () => {
	it('belong to the scene when it has its own', () => {
		const own = { ...CUT, kind: 'wipe', durationMs: 900, direction: 'circle' } as const;
		const state = after(
			show,
			{ type: 'changeScene', scene: { ...scene(show, 'wide-scene'), transition: own }, live: false },
			{ type: 'take', sceneId: 'wide-scene' },
		);
		expect(state.live.take.transition).toEqual(own);
	});

	it('can be called back once', () => {
		const state = after(
			show,
			{ type: 'take', sceneId: 'lectern-scene' },
			{ type: 'take', sceneId: 'wide-scene' },
			{ type: 'callBack' },
		);
		expect(state.live).toMatchObject({ program: 'lectern-scene', next: 'wide-scene' });
		expect(state.live.take).toMatchObject({ calledBack: true, from: 'wide-scene', count: 3 });
		expect(refusal(state, { type: 'callBack' })).toBe('nothingToCallBack');
		expect(refusal(show, { type: 'callBack' })).toBe('nothingToCallBack');
	});

	it('are not called back to black, nor to a scene that is gone', () => {
		const first = after(show, { type: 'take', sceneId: 'lectern-scene' });
		expect(refusal(first, { type: 'callBack' })).toBe('calledBackGone');
		const second = after(
			first,
			{ type: 'take', sceneId: 'wide-scene' },
			{ type: 'removeScene', sceneId: 'lectern-scene' },
		);
		expect(refusal(second, { type: 'callBack' })).toBe('calledBackGone');
	});

	it('by the hand lever end in a take without a transition', () => {
		const half = after(onAir, { type: 'setNext', sceneId: 'wide-scene' }, { type: 'setLever', position: 0.5 });
		expect(half.live).toMatchObject({ lever: 0.5, program: 'lectern-scene' });
		expect(refusal(half, { type: 'setNext', sceneId: null })).toBe('leverHalfWay');
		const done = after(half, { type: 'setLever', position: 1 });
		expect(done.live).toMatchObject({ lever: 0, program: 'wide-scene', next: 'lectern-scene' });
		expect(done.live.take.transition.kind).toBe('cut');
		expect(refusal(onAir, { type: 'setLever', position: 0.2 })).toBe('nextEmpty');
	});
});

describe('overlays', () => {
	const overlay: Overlay = {
		id: 'name',
		name: 'Name',
		kind: 'lowerThird',
		reach: 'every',
		showMs: 5000,
		move: 'rise',
		personId: null,
		side: 'left',
	};
	const added = after(show, { type: 'addOverlay', overlay });

	it('are shown from the beginning each time, with who they name', () => {
		const shown = after(added, { type: 'showOverlay', overlayId: 'name', personId: 'maren' });
		expect(shown.setup.overlays[0]).toMatchObject({ personId: 'maren' });
		expect(shown.live.shown).toEqual({ name: { at: AT, count: 1 } });
		const again = after(shown, { type: 'showOverlay', overlayId: 'name' });
		expect(again.setup.overlays[0]).toMatchObject({ personId: 'maren' });
		expect(again.live.shown.name).toMatchObject({ count: 2 });
		expect(after(again, { type: 'hideOverlay', overlayId: 'name' }).live.shown).toEqual({});
	});

	it('are over when their time is', () => {
		const showing = { at: 1000, count: 1 };
		const until = { ...overlay, showMs: 0 };
		expect([isShown(overlay, showing, 5999), isShown(overlay, showing, 6000), isShown(until, showing, 1e9)]).toEqual([
			true,
			false,
			true,
		]);
		expect(isShown(overlay, undefined, 0)).toBe(false);
	});

	it('are hidden by the hub when their time is over, at the new time when that is changed meanwhile', () => {
		const shown = after(added, { type: 'showOverlay', overlayId: 'name' });
		const hides = [{ type: 'hideOverlay', overlayId: 'name' }];
		expect(shown.live.due).toEqual([{ id: 'hide-name', at: AT + 5000, batch: hides }]);
		const longer = after(shown, { type: 'changeOverlay', overlay: { ...overlay, showMs: 9000 } });
		expect(longer.live.due).toEqual([{ id: 'hide-name', at: AT + 9000, batch: hides }]);
		const stays = after(shown, { type: 'changeOverlay', overlay: { ...overlay, showMs: 0 } });
		expect(stays.live.due).toEqual([]);
		expect(after(shown, { type: 'fallDue', dueId: 'hide-name' }).live).toMatchObject({ shown: {}, due: [] });
		expect(after(shown, { type: 'removeOverlay', overlayId: 'name' }).live).toMatchObject({ shown: {}, due: [] });
	});

	it('go with the source they show', () => {
		const logo: Overlay = {
			...overlay,
			id: 'logo',
			kind: 'picture',
			sourceId: 'wide',
			box: { x: 0, y: 0, width: 0.1, height: 0.1 },
			fit: 'fit',
		} as Overlay;
		const state = after(added, { type: 'addOverlay', overlay: logo }, { type: 'removeSource', sourceId: 'wide' });
		expect(state.setup.overlays.map(({ id }) => id)).toEqual(['name']);
	});
});

describe('a source', () => {
	const framing = { id: 'close', name: 'Close', crop: { x: 0.2, y: 0.2, width: 0.5, height: 0.5 } };
	const wide = show.setup.sources.find(({ id }) => id === 'wide')!;
	const framed = after(show, { type: 'addFraming', sourceId: 'wide', framing });

	it('loses a framing without leaving a scene empty', () => {
		const layer = { ...wholeLayer('l', 'wide'), framingId: 'close' };
		const used = after(framed, { type: 'addScene', scene: plainScene('close', 'Close', [layer]) });
		const lost = after(used, { type: 'removeFraming', sourceId: 'wide', framingId: 'close' });
		expect(scene(lost, 'close').layers[0]).toMatchObject({ sourceId: 'wide', framingId: null });
	});

	it('keeps its kind and its name', () => {
		const other = plainSource('wide', 'wide', { kind: 'colour', colour: '#000000' });
		expect(refusal(show, { type: 'changeSource', source: other })).toBe('otherKind');
		const renamed = { ...wide, name: 'Renamed', framings: [] };
		const same = after(framed, { type: 'changeSource', source: renamed }).setup.sources.find(({ id }) => id === 'wide');
		expect(same).toMatchObject({ name: 'wide', framings: [framing] });
	});

	it('takes its patches along and brings them back', () => {
		const patch = {
			id: 'p',
			name: 'Numbers',
			sourceId: 'wide',
			area: { x: 0, y: 0, width: 1, height: 1 },
			style: 'blur' as const,
			strength: 5,
			on: true,
			follow: false,
		};
		const patched = after(show, { type: 'addPatch', patch });
		const removed = after(patched, { type: 'removeSource', sourceId: 'wide' });
		expect(removed.setup.patches).toEqual([]);
		const { inverse } = reduce(patched, { type: 'removeSource', sourceId: 'wide' }, AT);
		expect(after(removed, batchOf(inverse)).setup.patches).toEqual([patch]);
	});
});

it('an event stored by an earlier version opens with what is new left empty', () => {
	const { background, people, overlays, patches, ...setup } = show.setup;
	const { drafts, lever, black, ...live } = show.live;
	const stored = {
		eventId: 'lantern-night',
		...setup,
		...live,
		sources: [{ id: 'lectern', name: 'Lectern', kind: 'camera', origin: { from: 'standIn', standIn: 'lectern' } }],
		scenes: [{ id: 'scene', name: 'Scene', layers: [{ id: 'layer', sourceId: 'lectern' }] }],
		transition: { kind: 'fade', durationMs: 500 },
	};
	const opened = openShow('lantern-night', 'Lantern Night', stored);
	expect(opened.unreadable).toEqual([]);
	expect(opened.state.setup).toMatchObject({ background, people, overlays, patches });
	expect(opened.state.live).toMatchObject({ drafts, lever, black });
	expect(opened.state.setup.scenes[0]).toEqual(plainScene('scene', 'Scene', [wholeLayer('layer', 'lectern')]));
});
