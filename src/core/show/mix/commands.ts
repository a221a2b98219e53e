/** Commands about the stream mix. */
import * as v from 'valibot';
import { idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import type { SingleCommand } from '../command.ts';
import { commands, withLive, withSetup, type Change, type Handlers } from '../slice.ts';
import { needSources } from '../sources/needed.ts';
import type { ShowState } from '../state.ts';
import {
	channelSchema,
	duckingSchema,
	faderSchema,
	fadeMsSchema,
	groupSchema,
	masterSchema,
	MOST_CHANNELS,
	MOST_SNAPSHOTS,
	snapshotOf,
	snapshotSchema,
	type Channel,
	type Group,
	type Mix,
	type Snapshot,
} from './mix.ts';

export const mixCommands = commands({
	addChannel: { channel: channelSchema, at: placeSchema },
	/** Everything of a channel but its fader and mute, which somebody else may be moving. */
	changeChannel: { channel: channelSchema },
	removeChannel: { channelId: idSchema },
	setFader: { channelId: idSchema, gainDb: faderSchema },
	setMute: { channelId: idSchema, muted: v.boolean() },
	/** Its button is held or released. */
	pressChannel: { channelId: idSchema, pressed: v.boolean() },
	/** By hand, or in a timed fade. */
	setGroupFader: { group: groupSchema, gainDb: faderSchema, fadeMs: v.optional(fadeMsSchema) },
	setGroupMute: { group: groupSchema, muted: v.boolean() },
	setDucking: { ducking: duckingSchema },
	setMaster: { master: masterSchema },
	/** Keeps a snapshot under its id, in place of a former one. */
	storeSnapshot: { snapshot: snapshotSchema, at: placeSchema },
	removeSnapshot: { snapshotId: idSchema },
	/** Fades the channels that a snapshot touches to what it keeps of them. */
	recallSnapshot: { snapshotId: idSchema, fadeMs: fadeMsSchema },
	setHush: { hushed: v.boolean() },
});

export const channels = collection<Channel>({
	what: 'channel',
	most: MOST_CHANNELS,
	list: ({ setup }) => setup.channels,
	put: (state, list) => withSetup(state, { channels: list }),
	adding: (channel, at) => [{ type: 'addChannel', channel, at }],
	changing: (channel) => [{ type: 'changeChannel', channel }],
	removing: ({ id: channelId }) => [{ type: 'removeChannel', channelId }],
});

const snapshots = collection<Snapshot>({
	what: 'snapshot',
	most: MOST_SNAPSHOTS,
	list: ({ setup }) => setup.mix.snapshots,
	put: (state, list) => withMix(state, { snapshots: list }),
	adding: (snapshot, at) => [{ type: 'storeSnapshot', snapshot, at }],
	changing: (snapshot) => [{ type: 'storeSnapshot', snapshot }],
	removing: ({ id: snapshotId }) => [{ type: 'removeSnapshot', snapshotId }],
});

export const mixHandlers: Handlers<typeof mixCommands> = {
	addChannel(state, { channel, at }) {
		needSources(state, [channel.sourceId, channel.followed], 'channel');
		return channels.add(state, channel, at);
	},
	changeChannel(state, { channel }) {
		needSources(state, [channel.sourceId, channel.followed], 'channel');
		return channels.change(state, channel.id, ({ gainDb, muted }) => ({ ...channel, gainDb, muted }));
	},
	removeChannel: (state, { channelId }) => removeChannel(state, channelId),
	setFader(state, { channelId, gainDb }) {
		const { gainDb: before } = channels.get(state, channelId);
		const moved = channels.change(state, channelId, (channel) => ({ ...channel, gainDb }));
		return { ...moved, inverse: [{ type: 'setFader', channelId, gainDb: before }] };
	},
	setMute(state, { channelId, muted }) {
		const { muted: before } = channels.get(state, channelId);
		const changed = channels.change(state, channelId, (channel) => ({ ...channel, muted }));
		return { ...changed, inverse: [{ type: 'setMute', channelId, muted: before }] };
	},
	pressChannel(state, { channelId, pressed }) {
		channels.get(state, channelId);
		const before = state.live.pressed.includes(channelId);
		const others = released(state, channelId);
		return {
			state: pressed ? withLive(others, { pressed: [...others.live.pressed, channelId] }) : others,
			inverse: before === pressed ? [] : [{ type: 'pressChannel', channelId, pressed: before }],
		};
	},
	setGroupFader(state, { group, gainDb, fadeMs }) {
		const { gainDb: before } = state.setup.mix.groups[group];
		const fading = fadeMs === undefined ? state : withFade(state, fadeMs);
		return {
			state: withGroup(fading, group, { gainDb }),
			inverse: [{ type: 'setGroupFader', group, gainDb: before, fadeMs }],
		};
	},
	setGroupMute: (state, { group, muted }) => ({
		state: withGroup(state, group, { muted }),
		inverse: [{ type: 'setGroupMute', group, muted: state.setup.mix.groups[group].muted }],
	}),
	setDucking: (state, { ducking }) => ({
		state: withMix(state, { ducking }),
		inverse: [{ type: 'setDucking', ducking: state.setup.mix.ducking }],
	}),
	setMaster: (state, { master }) => ({
		state: withMix(state, { master }),
		inverse: [{ type: 'setMaster', master: state.setup.mix.master }],
	}),
	storeSnapshot: (state, { snapshot, at }) =>
		snapshots.has(state, snapshot.id)
			? snapshots.change(state, snapshot.id, () => snapshot)
			: snapshots.add(state, snapshot, at),
	removeSnapshot: (state, { snapshotId }) => snapshots.remove(state, snapshotId),
	recallSnapshot(state, { snapshotId, fadeMs }) {
		const snapshot = snapshots.get(state, snapshotId);
		const list = state.setup.channels.map((channel) => recalled(channel, snapshot));
		return {
			state: withSetup(withFade(state, fadeMs), { channels: list }),
			inverse: recallBack(state, snapshot),
		};
	},
	setHush: (state, { hushed }) => ({
		state: withLive(state, { hushed }),
		inverse: [{ type: 'setHush', hushed: state.live.hushed }],
	}),
};

/** Fade back to the mix before a snapshot was recalled, milliseconds. */
const BACK_MS = 300;
/** Holds what the channels were for the length of one batch. */
const BACK_ID = 'before-recall';

function recallBack(state: ShowState, snapshot: Snapshot): SingleCommand[] {
	const touched = state.setup.channels.filter(({ id }) => snapshot.channels.some((kept) => kept.id === id));
	return [
		{ type: 'storeSnapshot', snapshot: snapshotOf(BACK_ID, 'Before', touched) },
		{ type: 'recallSnapshot', snapshotId: BACK_ID, fadeMs: BACK_MS },
		{ type: 'removeSnapshot', snapshotId: BACK_ID },
	];
}

function released(state: ShowState, channelId: string): ShowState {
	return withLive(state, { pressed: state.live.pressed.filter((id) => id !== channelId) });
}

function withMix(state: ShowState, part: Partial<Mix>): ShowState {
	return withSetup(state, { mix: { ...state.setup.mix, ...part } });
}

function withGroup(state: ShowState, group: Group, part: Partial<Mix['groups'][Group]>): ShowState {
	const { groups } = state.setup.mix;
	return withMix(state, { groups: { ...groups, [group]: { ...groups[group], ...part } } });
}

/** What changes with it gets there in this time. */
function withFade(state: ShowState, ms: number): ShowState {
	return withLive(state, { fade: { count: state.live.fade.count + 1, ms } });
}

function recalled(channel: Channel, { channels: kept }: Snapshot): Channel {
	const found = kept.find(({ id }) => id === channel.id);
	return found ? { ...channel, ...found } : channel;
}

/** Nothing of it stays pressed. */
export function removeChannel(state: ShowState, channelId: string): Change {
	const removed = channels.remove(state, channelId);
	return { ...removed, state: released(removed.state, channelId) };
}
