import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import type { Command } from '../command.ts';
import { channelSchema, MOST_CHANNELS, plainChannel, plainMix, snapshotOf } from './mix.ts';
import { reduceAll, tryReduce } from '../reduce.ts';
import { withSetup } from '../slice.ts';
import { plainSource } from '../sources/source.ts';
import { showStateSchema } from '../show-schema.ts';
import { emptyShow, type ShowState } from '../state.ts';

const console_ = plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' });
const camera = plainSource('camera', 'Camera', { kind: 'standInCamera', standIn: 'lectern' });
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const start = withSetup(empty, {
	sources: [console_, camera],
	channels: [plainChannel('a', 'console', 'Lectern mic', [0]), plainChannel('b', 'console', 'Choir', [2, 3])],
});
const after = (...commands: Command[]) => reduceAll(start, commands, 1000);
const refusal = (state: ShowState, command: Command) => {
	const outcome = tryReduce(state, command, 1000);
	return 'refused' in outcome ? outcome.refused : null;
};

describe('channels', () => {
	it('are added where they are wanted, changed and removed; another’s hand on the fader is left alone', () => {
		const added = after({ type: 'addChannel', channel: plainChannel('c', 'console', 'Fiddle', [4]), at: 1 });
		expect(added.setup.channels.map(({ id }) => id)).toEqual(['a', 'c', 'b']);
		const [a] = start.setup.channels;
		const changed = after(
			{ type: 'setFader', channelId: 'a', gainDb: -12 },
			{ type: 'setMute', channelId: 'a', muted: true },
			{ type: 'changeChannel', channel: { ...a!, name: 'Reader', group: 'speech', gainDb: 3, muted: false } },
		);
		expect(changed.setup.channels[0]).toMatchObject({ name: 'Reader', group: 'speech', gainDb: -12, muted: true });
		expect(after({ type: 'removeChannel', channelId: 'a' }).setup.channels.map(({ id }) => id)).toEqual(['b']);
	});

	it('are refused when they are there, gone, too many, or of no source', () => {
		expect(refusal(start, { type: 'addChannel', channel: plainChannel('a', 'console', 'A') })).toEqual({
			code: 'exists',
			about: { what: 'channel' },
		});
		expect(refusal(start, { type: 'addChannel', channel: plainChannel('z', 'gone', 'Z') })).toEqual({
			code: 'sourceMissing',
			about: { what: 'channel' },
		});
		expect(refusal(start, { type: 'setFader', channelId: 'z', gainDb: 0 })).toEqual({
			code: 'gone',
			about: { what: 'channel' },
		});
		const channels = Array.from({ length: MOST_CHANNELS }, (_, i) => plainChannel(`${i}`, 'console', `${i}`));
		const full = withSetup(start, { channels });
		expect(refusal(full, { type: 'addChannel', channel: plainChannel('z', 'console', 'Z') })).toEqual({
			code: 'tooMany',
			about: { what: 'channel', most: 32 },
		});
	});

	it('of a source that goes are gone with it, and what followed its picture follows its own again', () => {
		const [a] = start.setup.channels;
		const following = after({ type: 'changeChannel', channel: { ...a!, follow: 'onAir', followed: 'camera' } });
		expect(
			reduceAll(following, [{ type: 'removeSource', sourceId: 'camera' }], 1).setup.channels[0]!.followed,
		).toBeNull();
		expect(after({ type: 'removeSource', sourceId: 'console' }).setup.channels).toEqual([]);
	});

	it('that were stored before there were strips get one that does nothing', () => {
		const old = { id: 'a', sourceId: 'console', name: 'Console', gainDb: -3, muted: false };
		expect(v.parse(channelSchema, old)).toEqual({ ...plainChannel('a', 'console', 'Console'), gainDb: -3 });
		const { mix: _, ...setup } = start.setup;
		expect(v.parse(showStateSchema, { ...start, setup }).setup.mix).toEqual(plainMix());
	});
});

describe('groups and snapshots', () => {
	it('a group has a fader and a mute of its own', () => {
		const state = after(
			{ type: 'setGroupFader', group: 'music', gainDb: -9 },
			{ type: 'setGroupMute', group: 'speech', muted: true },
		);
		expect(state.setup.mix.groups).toEqual({
			speech: { gainDb: 0, muted: true },
			music: { gainDb: -9, muted: false },
			audience: { gainDb: 0, muted: false },
		});
	});

	it('a snapshot brings back what it touches, in its time, and nothing else', () => {
		const snapshot = snapshotOf('talk', 'Talk', [start.setup.channels[0]!]);
		const stored = after(
			{ type: 'storeSnapshot', snapshot },
			{ type: 'setFader', channelId: 'a', gainDb: -30 },
			{ type: 'setFader', channelId: 'b', gainDb: -20 },
		);
		const recalled = reduceAll(stored, [{ type: 'recallSnapshot', snapshotId: 'talk', fadeMs: 3000 }], 1);
		expect(recalled.setup.channels.map(({ gainDb }) => gainDb)).toEqual([0, -20]);
		expect(recalled.live.fade).toEqual({ count: 1, ms: 3000 });
		expect(v.parse(showStateSchema, JSON.parse(JSON.stringify(recalled)))).toEqual(recalled);
		expect(refusal(recalled, { type: 'recallSnapshot', snapshotId: 'gone', fadeMs: 0 })).toEqual({
			code: 'gone',
			about: { what: 'snapshot' },
		});
		expect(reduceAll(recalled, [{ type: 'removeSnapshot', snapshotId: 'talk' }], 1).setup.mix.snapshots).toEqual([]);
	});

	it('a group fades away and back in the time asked for; by hand it goes at once', () => {
		const faded = after({ type: 'setGroupFader', group: 'music', gainDb: -60, fadeMs: 5000 });
		expect(faded.setup.mix.groups.music.gainDb).toBe(-60);
		expect(faded.live.fade).toEqual({ count: 1, ms: 5000 });
		const byHand = reduceAll(faded, [{ type: 'setGroupFader', group: 'music', gainDb: 0 }], 1);
		expect(byHand.live.fade).toEqual({ count: 1, ms: 5000 });
	});

	it('hush is undone to just what was before', () => {
		const hushed = after({ type: 'setHush', hushed: true });
		expect(reduceAll(hushed, [{ type: 'setHush', hushed: false }], 1)).toEqual(start);
	});
});
