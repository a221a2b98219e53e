import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import type { Command } from '../command.ts';
import { firstDue } from '../due.ts';
import { reduce, tryReduce } from '../reduce.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { showStateSchema } from '../show-schema.ts';
import { withSetup } from '../slice.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, isOnAir, type ShowState } from '../state.ts';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { clipOnAir, transportOf } from '../clips/source.ts';
import { asRunOf } from './as-run.ts';
import { readClockTime, timeNear, timeOfDay } from './clock-time.ts';
import { plainCue, type Cue } from './cue.ts';
import { nextCue, plannedStart } from './order.ts';
import { standing, plannedTimes } from './plan.ts';

const ZONE = 'Europe/London';
const FILM_MS = 12_000;

const clip = plainSource('loop', 'Welcome loop', {
	kind: 'clip',
	...plainClip([wholeItem('m', 'Welcome loop', FILM_MS)]),
	leadOutMs: 4000,
});
const sceneOf = (id: string) => plainScene(id, id, [wholeLayer(`${id}-layer`, id)]);
const camera = (id: string) => plainSource(id, id, { kind: 'standInCamera', standIn: id });

const cue = (id: string, part: Partial<Cue> = {}): Cue => ({ ...plainCue(id, id), ...part });

/** The beginning of Lantern Night. */
const CUES = [
	cue('starting', { sceneId: 'card', plannedAt: '18:45', follow: { by: 'clock', time: '18:57' } }),
	cue('countdown', { sceneId: 'clock', follow: { by: 'clock', time: '19:00' } }),
	cue('opening', { sceneId: 'loop', follow: { by: 'clip', sourceId: 'loop' } }),
	cue('greeting', { sceneId: 'lectern', lengthMs: 300_000 }),
	cue('song', {
		sceneId: 'wide',
		lengthMs: 240_000,
		follow: { by: 'rotation', sceneIds: ['wide', 'choir'], everyMs: 8000, variesMs: 2000 },
	}),
	cue('closing', { sceneId: 'loop', follow: { by: 'clip', sourceId: 'loop' }, endsBroadcast: true }),
];

function lanternNight(cues: Cue[] = CUES): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	const ids = ['card', 'clock', 'lectern', 'wide', 'choir'];
	return withSetup(empty, {
		timeZone: ZONE,
		sources: [...ids.map(camera), clip],
		scenes: [...ids, 'loop'].map(sceneOf),
		cues,
	});
}

const at = (time: string) => timeNear(time, plannedStart(lanternNight())!, ZONE);

const done = (state: ShowState, command: Command, when: number) => reduce(state, command, when).state;

/** Does what is due until a time, as the hub does it. @returns the state, and what was on air from when */
function passUntil(state: ShowState, until: number): { state: ShowState; takes: [string, string | null][] } {
	const takes: [string, string | null][] = [];
	for (let due = firstDue(state); due && due.at <= until; due = firstDue(state)) {
		const before = state.live.program;
		state = done(state, { type: 'fallDue', dueId: due.id }, due.at);
		if (state.live.program !== before) takes.push([timeOfDay(due.at, ZONE), state.live.program]);
	}
	return { state, takes };
}

describe('the beginning of an evening', () => {
	it('happens by itself, each step at its time, from going on air to the first camera', () => {
		let state = done(lanternNight(), { type: 'go' }, at('18:45'));
		state = done(state, { type: 'startBroadcast', broadcastId: 'b' }, at('18:45'));
		expect(state.live.program).toBe('card');
		expect(state.live.next).toBe('clock');
		const { takes, state: after } = passUntil(state, at('19:10'));
		expect(takes).toEqual([
			['18:57:00', 'clock'],
			['19:00:00', 'loop'],
			['19:00:12', 'lectern'],
		]);
		expect(after.live.progress.current).toBe('greeting');
	});

	it('goes on in time after a server that was away', () => {
		const state = done(lanternNight(), { type: 'go' }, at('18:45'));
		// Nothing was done at 18:57, 19:00 and 19:00:12; at 19:00:20 the server is back and does it all.
		let late = state;
		for (let due = firstDue(late); due && due.at <= at('19:00:20'); due = firstDue(late))
			late = done(late, { type: 'fallDue', dueId: due.id }, at('19:00:20'));
		expect(late.live.program).toBe('lectern');
		expect(late.live.progress.since).toBe(at('19:00:12'));
	});

	it('waits for Go where a time has passed already', () => {
		const state = done(lanternNight(), { type: 'go' }, at('18:58'));
		expect(passUntil(state, at('20:00')).takes).toEqual([]);
		expect(nextCue(state)?.id).toBe('countdown');
	});

	it('plays a clip from its first moment when it is taken, and counts what is left', () => {
		const state = done(lanternNight(), { type: 'take', sceneId: 'loop' }, 1_000_000);
		expect(transportOf(state, 'loop')).toMatchObject({ playing: true, positionMs: 0, since: 1_000_000 });
		expect(clipOnAir(state, 1_007_000)).toMatchObject({ leftMs: 5000, leaveMs: null });
		expect(clipOnAir(state, 1_009_000)).toMatchObject({ leftMs: 3000, leaveMs: 3000 });
		// It ended; its last frame stands.
		expect(clipOnAir(state, 1_020_000)).toBeNull();
		// Taken off, it waits at its beginning once the transition is over.
		const left = done(state, { type: 'take', sceneId: 'lectern' }, 1_005_000);
		expect(transportOf(left, 'loop').playing).toBe(true);
		expect(transportOf(passUntil(left, 1_010_000).state, 'loop')).toMatchObject({ playing: false, positionMs: 0 });
	});

	it('moves with a clip that is paused, sought and played on', () => {
		let { state } = passUntil(done(lanternNight(), { type: 'go' }, at('18:45')), at('19:00:05'));
		state = done(state, { type: 'pauseClip', sourceId: 'loop' }, at('19:00:05'));
		expect(passUntil(state, at('19:30')).takes).toEqual([]);
		state = done(state, { type: 'playClip', sourceId: 'loop' }, at('19:01:00'));
		expect(passUntil(state, at('19:30')).takes).toEqual([['19:01:07', 'lectern']]);
	});
});

describe('the end of an evening', () => {
	it('plays the closing clip to its end and ends the broadcast then', () => {
		let state = done(lanternNight(), { type: 'startBroadcast', broadcastId: 'b' }, at('20:10'));
		state = done(state, { type: 'chooseCue', cueId: 'closing' }, at('20:10'));
		state = done(state, { type: 'go' }, at('20:10'));
		expect(isOnAir(passUntil(state, at('20:10:11')).state)).toBe(true);
		const { state: ended } = passUntil(state, at('20:11'));
		expect(ended.live.broadcast?.endedAt).toBe(at('20:10:12'));
		expect(ended.live.due).toEqual([]);
	});
});

describe('a rotation', () => {
	const singing = () => {
		let state = done(lanternNight(), { type: 'chooseCue', cueId: 'song' }, 0);
		state = done(state, { type: 'go' }, 1_000_000);
		return state;
	};

	it('lets its scenes take turns, about as long as was asked for, until Go', () => {
		const { takes, state } = passUntil(singing(), 1_000_000 + 60_000);
		expect(takes.map(([, scene]) => scene)).toEqual(['choir', 'wide', 'choir', 'wide', 'choir', 'wide', 'choir']);
		expect(state.live.next).toBe('loop');
		const gone = done(state, { type: 'go' }, 1_000_000 + 61_000);
		expect(gone.live.program).toBe('loop');
		expect(passUntil(gone, 1_000_000 + 62_000).takes).toEqual([]);
	});

	it('stops when somebody takes another scene by hand, and goes on when it is let', () => {
		const taken = done(singing(), { type: 'take', sceneId: 'lectern' }, 1_005_000);
		expect(taken.live.progress.held).toBe(true);
		expect(passUntil(taken, 1_060_000).takes).toEqual([]);
		const again = done(taken, { type: 'holdCue', held: false }, 1_030_000);
		expect(firstDue(again)?.id).toMatch(/^follow-/);
	});
});

describe('Go', () => {
	it('counts once when it is pressed twice, and when what was meant has just happened by itself', () => {
		const state = lanternNight();
		const once = done(state, { type: 'go', count: 0 }, 1000);
		expect(done(once, { type: 'go', count: 1 }, 1299).live.progress.current).toBe('starting');
		expect(done(once, { type: 'go', count: 1 }, 1300).live.progress.current).toBe('countdown');
		// Two presses are judged where they were made, however their messages bunch up or drift apart on the way.
		expect(done(once, { type: 'go', count: 1, afterMs: 250 }, 1900).live.progress.current).toBe('starting');
		expect(done(once, { type: 'go', count: 1, afterMs: 400 }, 1050).live.progress.current).toBe('countdown');
		// A line that was chosen in between is meant, however quickly.
		const chosen = done(once, { type: 'chooseCue', cueId: 'closing' }, 1100);
		expect(done(chosen, { type: 'go', count: 1 }, 1200).live.progress.current).toBe('closing');
		// Pressed before the page knew that the countdown had begun by itself.
		const { state: followed } = passUntil(done(state, { type: 'go' }, at('18:45')), at('18:57'));
		expect(done(followed, { type: 'go', count: 1 }, at('18:57') + 400).live.progress.current).toBe('countdown');
	});

	it('what the engine says of a cue that somebody has left meanwhile does nothing to the one after it', () => {
		const state = done(lanternNight(), { type: 'go' }, at('18:45'));
		const { id: dueId } = firstDue(state)!;
		const gone = done(state, { type: 'go' }, at('18:56:59'));
		expect(tryReduce(gone, { type: 'fallDue', dueId }, at('18:57'))).toMatchObject({ refused: { code: 'gone' } });
	});

	it('does what can be done of a cue whose scene or clip was removed', () => {
		let state = lanternNight([
			cue('a', { sceneId: 'lectern' }),
			cue('b', { sceneId: 'choir', plays: ['gone'], shows: [{ overlayId: 'gone' }] }),
			cue('c', { sceneId: 'wide' }),
		]);
		state = done(state, { type: 'go' }, 1000);
		state = done(state, { type: 'removeSource', sourceId: 'choir' }, 2000);
		state = done(state, { type: 'go' }, 3000);
		expect([state.live.progress.current, state.live.program]).toEqual(['b', 'lectern']);
		expect(done(state, { type: 'go' }, 4000).live.program).toBe('wide');
	});

	it('goes back, and says when there is nothing before or after', () => {
		let state = done(lanternNight(), { type: 'go' }, 1000);
		expect(tryReduce(state, { type: 'goBack' }, 2000)).toEqual({ refused: { code: 'sheetAtStart', about: {} } });
		state = done(state, { type: 'go' }, 2000);
		state = done(state, { type: 'go' }, 3000);
		state = done(state, { type: 'goBack' }, 4000);
		expect(state.live.progress.current).toBe('countdown');
		expect(done(state, { type: 'goBack' }, 5000).live.progress.current).toBe('starting');
		state = done(state, { type: 'chooseCue', cueId: 'closing' }, 6000);
		state = done(state, { type: 'go' }, 6000);
		expect(tryReduce(state, { type: 'go' }, 7000)).toEqual({ refused: { code: 'sheetOver', about: {} } });
	});

	it('passes over headings and lines that are greyed out', () => {
		const state = lanternNight([cue('h', { heading: true }), cue('s', { skipped: true }), cue('a'), cue('b')]);
		expect(nextCue(state)?.id).toBe('a');
	});
});

describe('whatever is pressed, whenever', () => {
	it('no cue is done twice or passed over, and the sheet can be stored', () => {
		const press = fc.record({
			afterMs: fc.integer({ min: 0, max: 400_000 }),
			does: fc.constantFrom('go', 'late', 'wall', 'pause', 'play', 'hold', 'free'),
		});
		fc.assert(
			fc.property(fc.array(press, { maxLength: 40 }), (presses) => {
				let state = lanternNight();
				let now = at('18:40');
				let known = 0;
				for (const { afterMs, does } of presses) {
					now += afterMs;
					state = passUntil(state, now).state;
					const count = does === 'late' ? known : state.live.progress.count;
					const command: Command = {
						go: { type: 'go' as const, count },
						late: { type: 'go' as const, count },
						wall: { type: 'take' as const, sceneId: 'choir' },
						pause: { type: 'pauseClip' as const, sourceId: 'loop' },
						play: { type: 'playClip' as const, sourceId: 'loop' },
						hold: { type: 'holdCue' as const, held: true },
						free: { type: 'holdCue' as const, held: false },
					}[does];
					known = state.live.progress.count;
					const outcome = tryReduce(state, command, now);
					if ('state' in outcome) state = outcome.state;
					expect(v.is(showStateSchema, state)).toBe(true);
				}
				const order = state.live.progress.done.map(({ cueId }) => cueId);
				expect(order).toEqual(CUES.slice(0, order.length).map(({ id }) => id));
			}),
		);
	});
});

describe('plan and actual', () => {
	it('a cue without a time of its own is planned behind the one before it', () => {
		const plan = plannedTimes(lanternNight());
		const times = [...plan].map(([id, { at: when }]) => [id, when === null ? null : timeOfDay(when, ZONE)]);
		expect(times).toEqual([
			['starting', '18:45:00'],
			['countdown', '18:57:00'],
			['opening', '19:00:00'],
			['greeting', '19:00:12'],
			['song', '19:05:12'],
			['closing', '19:09:12'],
		]);
	});

	it('is over by what began late and by what lasts too long, and moves all that comes', () => {
		let { state } = passUntil(done(lanternNight(), { type: 'go' }, at('18:45')), at('19:00:12'));
		expect(standing(state, at('19:02:00')).overMs).toBe(0);
		expect(standing(state, at('19:06:12'))).toMatchObject({ overMs: 60_000, leftMs: -60_000 });
		expect(timeOfDay(standing(state, at('19:06:12')).endsAt!, ZONE)).toBe('19:10:24');
		state = done(state, { type: 'go' }, at('19:04:12'));
		expect(standing(state, at('19:04:20')).overMs).toBe(-60_000);
		expect(timeOfDay(standing(state, at('19:04:20')).expected.get('closing')!, ZONE)).toBe('19:08:12');
	});
});

describe('times of day', () => {
	it('are those of the event’s time zone, also when the clocks change and after midnight', () => {
		const near = (local: string) => Date.parse(local);
		expect(timeNear('19:00', near('2026-11-28T12:00Z'), 'Europe/Paris')).toBe(near('2026-11-28T18:00Z'));
		expect(timeNear('19:00', near('2026-07-28T12:00Z'), 'Europe/Paris')).toBe(near('2026-07-28T17:00Z'));
		expect(timeNear('00:15', near('2026-11-28T22:00Z'), 'UTC')).toBe(near('2026-11-29T00:15Z'));
		expect(timeNear('23:50', near('2026-11-29T00:10Z'), 'UTC')).toBe(near('2026-11-28T23:50Z'));
	});

	it('are read as people type them', () => {
		expect(['9:05', '19.00', '19:00:30', ' ', '24:00', '7:5', 'noon'].map(readClockTime)).toEqual([
			'09:05',
			'19:00',
			'19:00:30',
			'',
			null,
			null,
			null,
		]);
	});
});

describe('the sheet itself', () => {
	const onAir = () => done(lanternNight(), { type: 'startBroadcast', broadcastId: 'b' }, 1000);
	const changes: Command[] = [
		{ type: 'addCue', cue: cue('new') },
		{ type: 'changeCue', cue: cue('song') },
		{ type: 'removeCue', cueId: 'song' },
		{ type: 'moveCue', cueId: 'song', at: 0 },
		{ type: 'replaceCues', cues: [] },
	];

	it('is locked on air until somebody unlocks it, and again at the next broadcast', () => {
		for (const command of changes) {
			expect(tryReduce(onAir(), command, 2000)).toEqual({ refused: { code: 'sheetLocked', about: {} } });
			const unlocked = done(onAir(), { type: 'unlockSheet', unlocked: true }, 2000);
			expect(tryReduce(unlocked, command, 2000)).toHaveProperty('state');
			const ended = done(unlocked, { type: 'endBroadcast' }, 3000);
			expect(tryReduce(ended, command, 3000)).toHaveProperty('state');
			const again = done(ended, { type: 'startBroadcast', broadcastId: 'c' }, 4000);
			expect(tryReduce(again, command, 5000)).toHaveProperty('refused');
		}
		// Going on is no change of it.
		expect(done(onAir(), { type: 'go' }, 2000).live.progress.current).toBe('starting');
	});

	it('is replaced as a whole and comes back as it was; two lines of one id are refused', () => {
		const { state, inverse } = reduce(lanternNight(), { type: 'replaceCues', cues: [cue('only')] }, 0);
		expect(state.setup.cues.map(({ id }) => id)).toEqual(['only']);
		expect(inverse.reduce((now, command) => done(now, command, 0), state).setup.cues).toEqual(CUES);
		expect(tryReduce(state, { type: 'replaceCues', cues: [cue('a'), cue('a')] }, 0)).toHaveProperty('refused');
	});

	it('as it ran says when each line began, against its plan, and how long it lasted', () => {
		const line = (when: number, name: string, plannedAt: number | null) => ({
			at: when,
			kind: 'cue' as const,
			said: { is: 'cue' as const, name, plannedAt },
		});
		const entries = [
			line(1000, 'Welcome', 1000),
			{ at: 1500, kind: 'take' as const, said: 'Lectern' },
			// Noted once more by a server that was started again.
			line(1000, 'Welcome', 1000),
			line(61_000, 'Greeting', 31_000),
			line(91_000, 'Song', null),
		];
		expect(asRunOf(entries, 121_000).map(({ name, differenceMs, lastedMs }) => [name, differenceMs, lastedMs])).toEqual(
			[
				['Welcome', 0, 60_000],
				['Greeting', 30_000, 30_000],
				['Song', null, 30_000],
			],
		);
	});
});
