import { describe, expect, it } from 'vitest';
import { mixPlan } from '../../sound/mix-plan.ts';
import { makingBed } from '../../media/adding.ts';
import { batchOf, type Command } from '../command.ts';
import { firstDue } from '../due.ts';
import { plainChannel } from '../mix/mix.ts';
import { reduce } from '../reduce.ts';
import { plainCue } from '../runsheet/cue.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { withSetup } from '../slice.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainClock } from '../sources/kinds/clock.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { BED_FADE_MS, plainClip, wholeItem } from './clip.ts';
import { transportOf } from './source.ts';

const bed = plainSource('bed', 'Harmonium, soft', {
	kind: 'soundClip',
	...plainClip([wholeItem('m', 'Harmonium', 60_000)]),
	repeats: true,
	bed: true,
});
const card = plainSource('card', 'Starting soon', { kind: 'card', card: plainCard() });
const clock = plainSource('clock', 'Countdown', {
	kind: 'clock',
	...plainClock({ shows: 'countdown', durationS: 60, startedAt: null }),
});
const camera = plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' });

function evening(): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
	const scenes = [card, clock, camera].map(({ id, name }) => plainScene(id, name, [wholeLayer(`${id}-layer`, id)]));
	return withSetup(empty, {
		sources: [bed, card, clock, camera],
		scenes: [...scenes, plainScene('both', 'Card over camera', [wholeLayer('a', 'lectern'), wholeLayer('b', 'card')])],
		channels: [{ ...plainChannel('bed-channel', 'bed', 'Bed'), follow: 'onAir' }],
		cues: [{ ...plainCue('count', 'Countdown'), sceneId: 'clock', plays: ['clock'] }],
	});
}
const done = (state: ShowState, command: Command, at: number) => reduce(state, command, at).state;
const channelOf = (state: ShowState) => mixPlan(state, () => 0, 1, false).channels[0]!;

describe('a music bed', () => {
	it('is made of a sound: round and round, quiet, heard under cards; and an ordinary sound is made of it again', () => {
		const sound = { ...bed, bed: false, repeats: false, playsOnTake: false };
		const channel = plainChannel('bed-channel', 'bed', 'Bed');
		const before = withSetup(evening(), { sources: [sound, card, clock, camera], channels: [channel] });
		const made = done(before, batchOf(makingBed(sound, [channel], true)), 0);
		expect(made.setup.sources[0]).toMatchObject({ bed: true, repeats: true, playsOnTake: true });
		expect(made.setup.channels[0]).toMatchObject({ follow: 'onAir', gainDb: -18 });
		const again = done(made, batchOf(makingBed(bed, made.setup.channels, false)), 0);
		expect(again.setup.sources[0]).toMatchObject({ bed: false, playsOnTake: false });
		expect(again.setup.channels[0]).toMatchObject({ follow: 'always', gainDb: 0 });
	});

	it('begins with a card, stays from card to clock, and fades slowly when a camera comes', () => {
		let state = done(evening(), { type: 'take', sceneId: 'card' }, 1000);
		expect(transportOf(state, 'bed')).toMatchObject({ playing: true, positionMs: 0, since: 1000 });
		expect(channelOf(state)).toMatchObject({ gain: 1, rampMs: BED_FADE_MS });
		state = done(state, { type: 'take', sceneId: 'clock' }, 5000);
		expect(transportOf(state, 'bed').since).toBe(1000);
		state = done(state, { type: 'take', sceneId: 'lectern' }, 9000);
		expect(channelOf(state)).toMatchObject({ gain: 0, rampMs: BED_FADE_MS });
		// It plays on until its fade is over.
		expect(transportOf(state, 'bed').playing).toBe(true);
		const due = firstDue(state)!;
		expect(due.at).toBeGreaterThanOrEqual(9000 + BED_FADE_MS);
		state = done(state, { type: 'fallDue', dueId: due.id }, due.at);
		expect(transportOf(state, 'bed')).toMatchObject({ playing: false, positionMs: 0 });
	});

	it('is silent under black, and where a card lies over a camera', () => {
		const state = done(evening(), { type: 'take', sceneId: 'card' }, 1000);
		expect(channelOf(done(state, { type: 'setBlack', black: true }, 2000)).gain).toBe(0);
		expect(channelOf(done(state, { type: 'take', sceneId: 'both' }, 2000)).gain).toBe(0);
	});
});

it('a countdown for some time is started by its cue, each time anew', () => {
	let state = done(evening(), { type: 'go' }, 1000);
	const startedAt = () => state.setup.sources.flatMap((each) => (each.kind === 'clock' ? [each.clock] : []))[0];
	expect(startedAt()).toMatchObject({ startedAt: 1000 });
	state = done(state, { type: 'resetSheet' }, 2000);
	state = done(state, { type: 'go' }, 3000);
	expect(startedAt()).toMatchObject({ startedAt: 3000 });
});
