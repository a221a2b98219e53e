import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { plainChannel } from '../mix/mix.ts';
import type { Overlay } from '../overlays/overlay.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { withSetup } from '../slice.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { timeOfDay } from './clock-time.ts';
import { plainCue, type Cue } from './cue.ts';
import { dryRun } from './dry-run.ts';

const ZONE = 'Europe/London';
const clipOf = (id: string, lengthMs: number, repeats = false) =>
	plainSource(id, id, {
		kind: 'clip',
		...plainClip([wholeItem(`${id}-file`, id, lengthMs)]),
		repeats,
	});
const named = (id: string, side: 'left' | 'right' = 'left'): Overlay => ({
	id,
	name: id,
	reach: 'every',
	showMs: 0,
	move: 'none',
	kind: 'lowerThird',
	personId: null,
	side,
});
const cue = (id: string, part: Partial<Cue> = {}): Cue => ({ ...plainCue(id, id), ...part });

function evening(cues: Cue[], overAt = ''): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	const cameras = ['card', 'lectern', 'wide'].map((id) => plainSource(id, id, { kind: 'standInCamera', standIn: id }));
	const clips = [clipOf('welcome', 12_000), clipOf('film', 90_000), clipOf('loop', 5000, true)];
	const sources = [...cameras, ...clips];
	return withSetup(empty, {
		timeZone: ZONE,
		sources,
		scenes: sources.map(({ id }) => plainScene(id, id, [wholeLayer(`${id}-layer`, id)])),
		overlays: [named('Maren'), named('Corin'), named('Ysolde', 'right')],
		channels: clips.map(({ id }) => plainChannel(`${id}-channel`, id, id)),
		cues,
		overAt,
	});
}
const all = () => true;
const conflictsOf = (cues: Cue[], overAt = '', hasFile: (id: string) => boolean = all) =>
	dryRun(evening(cues, overAt), hasFile).conflicts;

describe('a dry run', () => {
	it('goes through the whole sheet at its times, whatever comes by itself and whatever waits for a press', () => {
		const { steps, endsAt, conflicts } = dryRun(
			evening([
				cue('starting', { sceneId: 'card', plannedAt: '18:45', follow: { by: 'clock', time: '19:00' } }),
				cue('opening', { sceneId: 'welcome', follow: { by: 'clip', sourceId: 'welcome' } }),
				cue('songs', { heading: true }),
				cue('talk', { sceneId: 'lectern', lengthMs: 300_000, shows: [{ overlayId: 'Maren' }] }),
				cue('rest', { skipped: true }),
				cue('song', {
					sceneId: 'wide',
					hides: ['Maren'],
					lengthMs: 30_000,
					follow: { by: 'rotation', sceneIds: ['wide', 'lectern'], everyMs: 12_000, variesMs: 0 },
				}),
				cue('closing', { sceneId: 'film', follow: { by: 'clip', sourceId: 'film' }, endsBroadcast: true }),
			]),
			all,
		);
		expect(steps.map(({ at, cueId, by, sceneId }) => [timeOfDay(at, ZONE), cueId, by, sceneId])).toEqual([
			['18:45:00', 'starting', 'go', 'card'],
			['19:00:00', 'opening', 'itself', 'welcome'],
			['19:00:12', 'talk', 'itself', 'lectern'],
			['19:05:12', 'song', 'go', 'wide'],
			['19:05:24', 'song', 'turn', 'lectern'],
			['19:05:36', 'song', 'turn', 'wide'],
			['19:05:42', 'closing', 'go', 'film'],
		]);
		expect(timeOfDay(endsAt, ZONE)).toBe('19:07:12');
		expect(steps[2]).toMatchObject({ overlayIds: ['Maren'], clipIds: [] });
		expect(steps.at(-1)).toMatchObject({ overlayIds: [], clipIds: ['film'] });
		expect(conflicts).toEqual([]);
	});

	it('changes nothing of the show, and finds nothing in an empty sheet', () => {
		const show = evening([cue('talk', { sceneId: 'lectern' })]);
		const before = structuredClone(show);
		dryRun(show, all);
		expect(show).toEqual(before);
		expect(dryRun(evening([]), all)).toMatchObject({ steps: [], conflicts: [] });
	});

	it('names what is gone: scenes, clips, files, overlays, people, mixes, channels', () => {
		expect(
			conflictsOf([
				cue('a', { sceneId: 'gone', plays: ['gone'], shows: [{ overlayId: 'Maren', personId: 'gone' }] }),
				cue('b', { hides: ['gone'], mix: { snapshotId: 'gone', fadeMs: 0, mute: ['gone'], unmute: [] } }),
				cue('c', { follow: { by: 'rotation', sceneIds: ['wide', 'gone'], everyMs: 5000, variesMs: 0 } }),
			]).map((each) => (each.is === 'gone' ? `${each.cueId} ${each.what}` : each.is)),
		).toEqual(['a scene', 'a clip', 'a person', 'b overlay', 'b snapshot', 'b channel', 'c scene']);
		expect(conflictsOf([cue('film', { sceneId: 'film' })], '', (id) => id !== 'film-file')).toEqual([
			{ cueId: 'film', is: 'fileGone', name: 'film' },
		]);
	});

	it('names what contradicts itself, is heard twice, or lies one upon the other', () => {
		expect(
			conflictsOf([
				cue('a', {
					shows: [{ overlayId: 'Maren' }],
					hides: ['Maren'],
					mix: { snapshotId: null, fadeMs: 0, mute: ['film-channel'], unmute: ['film-channel'] },
				}),
			]).map(({ is }) => is),
		).toEqual(['showsAndHides', 'mutesAndOpens']);
		const both = [
			cue('film', { sceneId: 'film', lengthMs: 20_000 }),
			cue('welcome', { plays: ['loop'], lengthMs: 20_000 }),
		];
		expect(conflictsOf(both)).toEqual([{ cueId: 'welcome', is: 'twoHeard', name: 'film', other: 'loop' }]);
		// Taken away, the film is heard no more once the transition is over.
		expect(conflictsOf([both[0]!, cue('wide', { sceneId: 'wide', plays: ['loop'] })])).toEqual([]);
		expect(
			conflictsOf([cue('one', { shows: [{ overlayId: 'Maren' }] }), cue('two', { shows: [{ overlayId: 'Corin' }] })]),
		).toEqual([{ cueId: 'two', is: 'twoNamed', name: 'Maren', other: 'Corin' }]);
		// At two sides there is room for both.
		expect(
			conflictsOf([cue('one', { shows: [{ overlayId: 'Maren' }] }), cue('two', { shows: [{ overlayId: 'Ysolde' }] })]),
		).toEqual([]);
	});

	it('names an end that never comes', () => {
		expect(
			conflictsOf([
				cue('a', { follow: { by: 'clock', time: '' } }),
				cue('b', { plannedAt: '19:10', follow: { by: 'clock', time: '19:05' } }),
				cue('c', { sceneId: 'lectern', follow: { by: 'clip', sourceId: 'film' } }),
				cue('d', { sceneId: 'loop', follow: { by: 'clip', sourceId: 'loop' } }),
			]).flatMap((each) => (each.is === 'neverOver' ? [`${each.cueId} ${each.why}`] : [])),
		).toEqual(['a noTime', 'b timePassed', 'c notPlayed', 'd repeats']);
	});

	it('names a clip that is waited for and was left, and goes on by a press', () => {
		const cues = [
			cue('film', { sceneId: 'film' }),
			cue('wide', { sceneId: 'wide', follow: { by: 'clip', sourceId: 'film' } }),
			cue('end'),
		];
		const { steps, conflicts } = dryRun(evening(cues), all);
		expect(steps.map(({ cueId, by }) => [cueId, by])).toEqual([
			['film', 'go'],
			['wide', 'go'],
			['end', 'go'],
		]);
		expect(conflicts).toEqual([{ cueId: 'wide', is: 'neverOver', why: 'notPlayed' }]);
	});

	it('names a plan that does not fit: a time that is missed, an evening that is too short', () => {
		const cues = [
			cue('talk', { plannedAt: '19:00', lengthMs: 600_000 }),
			cue('song', { plannedAt: '19:08', lengthMs: 120_000 }),
		];
		expect(conflictsOf(cues, '19:11')).toEqual([
			{ cueId: 'song', is: 'late', ms: 120_000 },
			{ cueId: null, is: 'tooLong', ms: 60_000 },
		]);
		expect(conflictsOf([cues[0]!], '19:11')).toEqual([]);
	});

	it('does every line once and in order, whatever it is made of', () => {
		const follow = fc.oneof(
			fc.constant<Cue['follow']>({ by: 'go' }),
			fc.integer({ min: 500, max: 60_000 }).map((ms): Cue['follow'] => ({ by: 'after', ms })),
			fc.constantFrom('18:50', '19:05', '').map((time): Cue['follow'] => ({ by: 'clock', time })),
			fc.constantFrom('film', 'loop', 'gone').map((sourceId): Cue['follow'] => ({ by: 'clip', sourceId })),
			fc.constant<Cue['follow']>({ by: 'rotation', sceneIds: ['wide', 'gone'], everyMs: 4000, variesMs: 1000 }),
		);
		const part = fc.record({
			follow,
			skipped: fc.boolean(),
			heading: fc.boolean(),
			sceneId: fc.constantFrom(null, 'film', 'wide', 'gone'),
			lengthMs: fc.constantFrom(null, 0, 5000),
			plannedAt: fc.constantFrom('', '18:45', '19:10'),
		});
		fc.assert(
			fc.property(fc.array(part, { maxLength: 8 }), (parts) => {
				const cues = parts.map((each, i) => cue(`cue-${i}`, each));
				const { steps, endsAt } = dryRun(evening(cues), all);
				expect(Number.isFinite(endsAt)).toBe(true);
				const done = steps.filter(({ by }) => by !== 'turn').map(({ cueId }) => cueId);
				expect(done).toEqual(cues.filter(({ skipped, heading }) => !skipped && !heading).map(({ id }) => id));
				expect(steps.every(({ at }, i) => i === 0 || at >= steps[i - 1]!.at)).toBe(true);
			}),
		);
	});
});
