import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { batchOf, type Command } from '../command.ts';
import { subjectOf } from '../actions/actions.ts';
import { plainChannel } from '../mix/mix.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { plainCue } from '../runsheet/cue.ts';
import { plainScene } from '../scenes/scene.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow } from '../state.ts';
import { ownPanel } from './own-panel.ts';
import { MOST_PANELS, panelSchema, plainButton, type Panel } from './panel.ts';

const AT = 1_795_000_000_000;
const NAMES = {
	...{ panel: 'This event', scenes: 'Scenes', overlays: 'Names', cues: 'Run sheet', words: 'Words' },
	...{ sound: 'Sound', clips: 'Clips', macros: 'Macros' },
};
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const show = reduceAll(
	empty,
	[
		{ type: 'addSource', source: plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' }) },
		...['one', 'two'].map((id): Command => ({ type: 'addScene', scene: plainScene(id, id, []) })),
		{ type: 'addChannel', channel: { ...plainChannel('mic', 'lectern', 'Handheld'), follow: 'press' } },
		{ type: 'addCue', cue: plainCue('greeting', 'Greeting') },
	],
	AT,
);

describe('the panel that an event makes of itself', () => {
	it('has everything that was set up, and only pages on which something is', () => {
		const { pages } = ownPanel(show.setup, NAMES);
		expect(pages.map(({ name }) => name)).toEqual(['Scenes', 'Run sheet', 'Sound', 'Macros']);
		const orders = pages.flatMap(({ buttons }) => buttons.map(({ press }) => press!));
		expect(orders).toContainEqual({ action: 'choose-scene', of: 'two' });
		expect(orders).toContainEqual({ action: 'speak', of: 'mic' });
		expect(orders).toContainEqual({ action: 'choose-cue', of: 'greeting' });
		for (const order of orders) expect(subjectOf(show, order)).not.toBeNull();
	});

	it('keeps up with the event, is one that could be made by hand, and has each button once', () => {
		const more = reduceAll(show, [{ type: 'addScene', scene: plainScene('three', 'three', []) }], AT);
		const made = ownPanel(more.setup, NAMES);
		expect(made.pages[0]!.buttons).toHaveLength(ownPanel(show.setup, NAMES).pages[0]!.buttons.length + 1);
		expect(v.parse(panelSchema, made)).toEqual(made);
		for (const { buttons } of made.pages) expect(new Set(buttons.map(({ id }) => id)).size).toBe(buttons.length);
		expect(v.parse(panelSchema, ownPanel(empty.setup, NAMES)).pages.length).toBeGreaterThan(0);
	});
});

describe('panels', () => {
	const panel: Panel = {
		...{ id: 'bram', name: 'Bram’s phone', columns: 3, vibrates: true },
		pages: [{ name: 'First', buttons: [plainButton('b', { action: 'hush' })] }],
	};

	it('are added, changed, moved, removed, and all of that is taken back', () => {
		const commands: Command[] = [
			{ type: 'addPanel', panel },
			{ type: 'addPanel', panel: { ...panel, id: 'tablet' }, at: 0 },
			{ type: 'movePanel', panelId: 'tablet', at: 1 },
			{ type: 'changePanel', panel: { ...panel, columns: 5 } },
			{ type: 'removePanel', panelId: 'bram' },
		];
		let state = empty;
		for (const command of commands) {
			const { state: changed, inverse } = reduce(state, command, AT);
			expect(reduceAll(changed, [batchOf(inverse)], AT)).toEqual(state);
			state = changed;
		}
		expect(state.setup.panels.map(({ id }) => id)).toEqual(['tablet']);
	});

	it('are so many at most', () => {
		const many = Array.from({ length: MOST_PANELS }, (_, i): Command => ({
			type: 'addPanel',
			panel: { ...panel, id: `p${i}` },
		}));
		expect(tryReduce(reduceAll(empty, many, AT), { type: 'addPanel', panel }, AT)).toMatchObject({
			refused: { code: 'tooMany' },
		});
	});
});
