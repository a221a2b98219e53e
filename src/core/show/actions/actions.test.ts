import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { forbiddenOrder } from '../../access/orders.ts';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { commandSchema, type Command } from '../command.ts';
import { plainChannel } from '../mix/mix.ts';
import type { Overlay } from '../overlays/overlay.ts';
import { reduceAll } from '../reduce.ts';
import { plainCue } from '../runsheet/cue.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { commandOf, standOf, subjectOf } from './actions.ts';
import { ACTION_IDS, ACTION_SUBJECTS, orderSchema, SPOKEN, SWITCHES, type Order } from './order.ts';
import { firstOrder, subjectsOf } from './subjects.ts';

const AT = 1_795_000_000_000;
const press = { at: AT + 60_000, from: 'Test', newId: 'made' };
const lowerThird: Overlay = {
	...{ id: 'name', name: 'Who speaks', reach: 'every', showMs: 0, move: 'none', kind: 'lowerThird' },
	...{ personId: null, side: 'left' },
} as Overlay;
const film = plainSource('film', 'Season', {
	kind: 'clip',
	...plainClip([wholeItem('m', 'Season', 9000)]),
	playsOnTake: false,
});
const show = reduceAll(
	emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }),
	[
		{ type: 'addSource', source: plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' }) },
		{ type: 'addSource', source: film },
		{ type: 'addSource', source: plainSource('card', 'Back shortly', { kind: 'card', card: plainCard() }) },
		{ type: 'addScene', scene: plainScene('card', 'Back shortly', [wholeLayer('one', 'card')]) },
		{ type: 'addChannel', channel: plainChannel('mic', 'lectern', 'Lectern mic') },
		...['lectern', 'wide'].map((id): Command => ({
			type: 'addScene',
			scene: plainScene(id, id, [wholeLayer('one', 'lectern')]),
		})),
		{ type: 'addPerson', person: { id: 'maren', name: 'Maren Oakshaw', role: '' } },
		{ type: 'addPerson', person: { id: 'corin', name: 'Corin Vale', role: '' } },
		{ type: 'addOverlay', overlay: lowerThird },
		{ type: 'addCue', cue: { ...plainCue('one', 'Greeting'), follow: { by: 'after', ms: 90_000 } } },
		{ type: 'addCue', cue: plainCue('two', 'Talk') },
		{ type: 'take', sceneId: 'lectern' },
		{ type: 'setNext', sceneId: 'wide' },
		{ type: 'startBroadcast', broadcastId: 'b' },
	],
	AT,
);
const done = (state: ShowState, order: Order) => {
	const command = commandOf(state, order, press);
	return command ? reduceAll(state, [command], press.at) : state;
};
const stands = (state: ShowState, order: Order) => standOf(state, order, press.at);

describe('every action', () => {
	it.each(ACTION_IDS)(
		'%s comes to a command that can be sent, of the types that it names, and is about what it says',
		(action) => {
			const order = firstOrder(show.setup, action, 'Ready?');
			// The demo of this test has no song, no snapshot.
			if (order === null) return expect(['song', 'snapshot']).toContain(ACTION_SUBJECTS[action]);
			expect(v.is(orderSchema, order)).toBe(true);
			expect(subjectOf(show, order)).not.toBeNull();
			const command = commandOf(show, order, press);
			if (command) expect(v.is(commandSchema, command)).toBe(true);
			expect(forbiddenOrder('owner', show.setup, order)).toBeNull();
			expect(forbiddenOrder('guest', show.setup, order)).not.toBeNull();
			const subject = ACTION_SUBJECTS[action];
			if (subject === null || subject === 'group') return;
			const gone = { ...order, of: 'burnt' };
			expect([commandOf(show, gone, press), stands(show, gone)]).toEqual([null, 'gone']);
		},
	);

	it('is written down with what it needs, and nothing else', () => {
		for (const wrong of [
			{ action: 'take-scene' },
			{ action: 'take', of: 'wide' },
			{ action: 'take', to: 'on' },
			{ action: 'marker' },
			{ action: 'hush', text: 'loud' },
			{ action: 'fly' },
		])
			expect(v.is(orderSchema, wrong), JSON.stringify(wrong)).toBe(false);
		expect(SPOKEN.every((action) => v.is(orderSchema, { action, text: 'x' }))).toBe(true);
		expect(SWITCHES.every((action) => ACTION_IDS.includes(action))).toBe(true);
	});
});

describe('a switch', () => {
	it('goes over, or to the side that is asked for, where a second press changes nothing', () => {
		const hushed = done(show, { action: 'hush' });
		expect([hushed.live.hushed, done(hushed, { action: 'hush' }).live.hushed]).toEqual([true, false]);
		expect(commandOf(hushed, { action: 'hush', to: 'on' }, press)).toBeNull();
		const muted = done(show, { action: 'mute', of: 'mic', to: 'on' });
		expect([stands(muted, { action: 'mute', of: 'mic' }), stands(show, { action: 'mute', of: 'mic' })]).toEqual([
			'muted',
			'plain',
		]);
	});

	it('of a name shows whom it names, puts another name in its place, and hides it', () => {
		const maren = done(show, { action: 'name', of: 'maren' });
		const corin = done(maren, { action: 'name', of: 'corin' });
		const both = (state: ShowState) => ['maren', 'corin'].map((of) => stands(state, { action: 'name', of }));
		expect([both(maren), both(corin), both(done(corin, { action: 'name', of: 'corin' }))]).toEqual([
			['on', 'plain'],
			['plain', 'on'],
			['plain', 'plain'],
		]);
	});

	it('of a clip plays and pauses it', () => {
		const order: Order = { action: 'clip', of: 'film' };
		const plays = reduceAll(show, [commandOf(show, order, { ...press, at: AT })!], AT);
		expect(standOf(plays, order, AT + 100)).toBe('running');
		expect(commandOf(plays, order, { ...press, at: AT + 100 })).toEqual({ type: 'pauseClip', sourceId: 'film' });
		expect(commandOf(plays, { action: 'stop-clips' }, { ...press, at: AT + 100 })).toEqual({
			type: 'pauseClip',
			sourceId: 'film',
		});
	});
});

describe('a button', () => {
	it('says what is in the program and in Next, and what comes by itself', () => {
		expect(['lectern', 'wide'].map((of) => stands(show, { action: 'take-scene', of }))).toEqual(['program', 'next']);
		expect(stands(show, { action: 'choose-cue', of: 'one' })).toBe('next');
		const begun = done(show, { action: 'go' });
		expect(['one', 'two'].map((of) => stands(begun, { action: 'choose-cue', of }))).toEqual(['running', 'armed']);
		expect(stands(begun, { action: 'go' })).toBe('armed');
		const held = done(begun, { action: 'hold-cue' });
		expect([stands(held, { action: 'hold-cue' }), stands(held, { action: 'go' })]).toEqual(['on', 'plain']);
	});

	it('chooses a scene as the desk does: into Next, or at once', () => {
		const order: Order = { action: 'choose-scene', of: 'wide' };
		expect(commandOf(show, order, press)).toEqual({ type: 'setNext', sceneId: 'wide' });
		expect(commandOf(done(show, { action: 'direct', to: 'on' }), order, press)).toEqual({
			type: 'take',
			sceneId: 'wide',
		});
	});

	it('offers subjects in the order of the event', () => {
		expect(subjectsOf(show.setup, 'cue').map(({ id }) => id)).toEqual(['one', 'two']);
		expect(subjectsOf(show.setup, 'macro').map(({ id }) => id)).toEqual(['everything-off']);
	});

	it('of a macro runs while another press would do nothing, then says that it can be taken back', () => {
		const order: Order = { action: 'macro', of: 'everything-off' };
		const begun = done(show, order);
		// A page's clock may be a little behind that of the server.
		for (const ms of [-20, 0, 300]) expect(standOf(begun, order, press.at + ms), `${ms}`).toBe('running');
		expect(standOf(begun, order, press.at + 1000)).toBe('on');
		const back = reduceAll(begun, [commandOf(begun, order, press)!], press.at + 1000);
		expect([back.live.program, standOf(back, order, press.at + 2000)]).toEqual([show.live.program, 'plain']);
	});
});
