import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { reduceAll } from '../show/reduce.ts';
import { emptyShow, type ShowState } from '../show/state.ts';
import { withLive, withSetup } from '../show/slice.ts';
import { embedLine, slugSchema } from './place.ts';
import { shownOf, watchedOf, type Watched } from './watched.ts';

const NOW = Date.UTC(2026, 10, 28, 18);
const HOUR_MS = 3_600_000;
const watch = { slug: 'lantern-night', access: 'public', captions: true, messages: true, recording: true } as const;
const destination = {
	...{ id: 'page', name: 'Our own page', address: '', userName: '', hasKey: true, ticked: true, keyLasts: true },
	...{
		maxHeight: null,
		maxKbps: null,
		maxFps: null,
		accountUrl: null,
		signed: null,
		details: null,
		hostBroadcast: null,
	},
	watch,
};
const empty = emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
const show = withSetup(empty, { timeZone: 'Europe/London', destinations: [destination] });
const onAir = reduceAll(show, [{ type: 'startBroadcast', broadcastId: 'b' }], NOW);

describe('what a watch page shows of an event', () => {
	it('is when it begins, in any zone, before anything is sent', () => {
		expect(watchedOf(show, 'page')).toEqual({
			...{ eventId: 'lantern-night', title: 'Lantern Night', description: '', startsAt: NOW + HOUR_MS },
			...{ phase: 'before', endedAt: null, pictureId: null, hidden: [] },
		});
		expect(watchedOf(withSetup(show, { startsAt: '', hostTitle: 'Lanterns' }), 'page')).toMatchObject({
			...{ title: 'Lanterns', startsAt: null },
		});
	});

	it('is live while it is sent there, and over after that; a rehearsal is nothing that viewers see', () => {
		expect(watchedOf(onAir, 'page')!.phase).toBe('live');
		const ended = reduceAll(onAir, [{ type: 'endBroadcast' }], NOW + HOUR_MS);
		expect(watchedOf(ended, 'page')).toMatchObject({ phase: 'after', endedAt: NOW + HOUR_MS });
		const rehearsed = reduceAll(show, [{ type: 'startBroadcast', broadcastId: 'r', rehearsal: true }], NOW);
		expect(watchedOf(rehearsed, 'page')!.phase).toBe('before');
	});

	it('is nothing where it is not sent there', () => {
		expect(watchedOf(withSetup(show, { destinations: [{ ...destination, ticked: false }] }), 'page')).toBeNull();
		expect(watchedOf(show, 'another')).toBeNull();
	});

	it('leaves out messages that somebody has hidden, of this page alone', () => {
		const hides = (state: ShowState) => withLive(state, { hiddenMessages: ['page/7', 'ridge/8', 'page-two/9'] });
		expect(watchedOf(hides(onAir), 'page')!.hidden).toEqual(['7']);
	});
});

describe('the event that a page shows', () => {
	const event = (eventId: string, part: Partial<Watched>): Watched => ({
		...watchedOf(show, 'page')!,
		eventId,
		...part,
	});
	const live = event('live', { phase: 'live' });
	const soon = event('soon', { startsAt: NOW + HOUR_MS });
	const later = event('later', { startsAt: NOW + 50 * HOUR_MS });
	const late = event('late', { startsAt: NOW - 2 * HOUR_MS });
	const missed = event('missed', { startsAt: NOW - 20 * HOUR_MS });
	const over = event('over', { phase: 'after', endedAt: NOW - HOUR_MS });
	const longOver = event('longOver', { phase: 'after', endedAt: NOW - 90 * HOUR_MS });

	it.each([
		['one that is live', [later, soon, live, over], 'live'],
		['else the next one', [later, over, soon, missed], 'soon'],
		['one that begins late', [later, late], 'late'],
		['else the last one', [longOver, over, missed], 'over'],
		['else whatever there is', [missed], 'missed'],
	])('is %s', (_, events, shown) => {
		expect(shownOf(events, NOW)!.eventId).toBe(shown);
	});

	it('is none where there is none', () => {
		expect(shownOf([], NOW)).toBeNull();
	});
});

it('the line for another site quotes what stands in it', () => {
	expect(embedLine('https://bivvo.example/watch/lantern-night', 'Our "own" <page>')).toContain(
		'src="https://bivvo.example/watch/lantern-night?embed" title="Our &quot;own&quot; &lt;page>"',
	);
});

it.each([
	['lantern-night', true],
	['a1b', true],
	['ab', false],
	['-lantern', false],
	['Lantern', false],
	['a/b', false],
	['x'.repeat(61), false],
])('“%s” as a part of an address: %s', (slug, isOne) => {
	expect(v.is(slugSchema, slug)).toBe(isOne);
});
