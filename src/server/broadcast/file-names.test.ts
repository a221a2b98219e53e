import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Track } from '../../core/show/delivery/tracks.ts';
import { withLive } from '../../core/show/slice.ts';
import { emptyShow, type ShowState } from '../../core/show/state.ts';
import { recordingRows } from './file-names.ts';

const AT = Date.UTC(2026, 10, 28, 19, 0, 5);
const track = (kind: Track['kind'], name: string): Track =>
	kind === 'source' ? { kind, id: 'x', name, maxHeight: 540, fps: 30, kbps: 2000 } : { kind, id: 'x', name, sides: 1 };

function show(title: string, tracks: Track[], rehearsal = false): ShowState {
	const empty = emptyShow('lantern-night', title, '', { width: 1280, height: 720, fps: 30 });
	return withLive(empty, { broadcast: { id: 'b', startedAt: AT, endedAt: null, rehearsal, renditions: [], tracks } });
}

it('a recording is named event, date, what; a rehearsal says so', () => {
	const tracks = [track('source', 'Chapel wide'), track('channel', 'Lectern mic')];
	expect(
		recordingRows(show('Lantern Night', tracks), 'b', AT).map(({ file, kind, name }) => [file, kind, name]),
	).toEqual([
		['lantern-night-2026-11-28-190005-program.mp4', 'program', ''],
		['lantern-night-2026-11-28-190005-chapel-wide.mp4', 'source', 'Chapel wide'],
		['lantern-night-2026-11-28-190005-lectern-mic.wav', 'channel', 'Lectern mic'],
	]);
	expect(recordingRows(show('Lantern Night', [], true), 'b', AT)[0]!.file).toContain('lantern-night-rehearsal-');
	// What goes on within the same second, on another disk, is another file.
	expect(recordingRows(show('Lantern Night', tracks), 'b', AT + 700, true).map(({ file }) => file)).toEqual([
		'lantern-night-2026-11-28-190005700-program.mp4',
		'lantern-night-2026-11-28-190005700-chapel-wide.mp4',
		'lantern-night-2026-11-28-190005700-lectern-mic.wav',
	]);
});

it('whatever people type, names are plain, of bearable length, and no two are alike', () => {
	const names = fc.oneof(
		fc.string({ unit: 'binary', minLength: 1, maxLength: 120 }),
		fc.constantFrom('a', 'a 2', 'a-3', '../..', 'program', '夜'),
	);
	fc.assert(
		fc.property(
			names,
			fc.array(fc.tuple(fc.constantFrom('source' as const, 'channel' as const), names), { maxLength: 12 }),
			(title, list) => {
				const rows = recordingRows(
					show(
						title,
						list.map(([kind, name]) => track(kind, name)),
					),
					'b',
					AT,
				);
				expect(rows).toHaveLength(list.length + 1);
				expect(new Set(rows.map(({ file }) => file)).size).toBe(rows.length);
				expect(new Set(rows.map(({ id }) => id)).size).toBe(rows.length);
				for (const { file } of rows) {
					expect(file).toMatch(/^[a-z0-9-]+\.(mp4|wav)$/);
					expect(file.length).toBeLessThan(255);
				}
			},
		),
	);
});
