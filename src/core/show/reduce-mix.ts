/** The part of the reducer that is about the stream mix. */
import type { Command } from './command.ts';
import type { Channel, Group, Mix, Snapshot } from './mix.ts';
import { changed, inserted, refused, type Outcome } from './outcome.ts';
import type { ShowState } from './state.ts';

/** As many channels as the mixer has inputs. */
export const MOST_CHANNELS = 32;

export type MixCommand = Extract<
	Command,
	{
		type:
			| 'addChannel'
			| 'changeChannel'
			| 'removeChannel'
			| 'setFader'
			| 'setMute'
			| 'pressChannel'
			| 'setGroupFader'
			| 'setGroupMute'
			| 'setDucking'
			| 'setMaster'
			| 'storeSnapshot'
			| 'removeSnapshot'
			| 'recallSnapshot'
			| 'setHush';
	}
>;

export function reduceMix(state: ShowState, command: MixCommand): Outcome {
	const { mix } = state;
	switch (command.type) {
		case 'addChannel': {
			const { channel, at } = command;
			if (state.channels.some(({ id }) => id === channel.id)) return refused('This channel is there already.');
			if (state.channels.length >= MOST_CHANNELS)
				return refused(`${MOST_CHANNELS} channels are the most. Remove one first.`);
			if (!state.sources.some(({ id }) => id === channel.sourceId))
				return refused('The source of this channel is no longer there.');
			return changed(state, { channels: inserted(state.channels, channel, at) });
		}
		case 'changeChannel': {
			const { channel } = command;
			return changeChannel(state, channel.id, (now) => ({
				...channel,
				gainDb: now.gainDb,
				muted: now.muted,
				pressed: now.pressed,
			}));
		}
		case 'removeChannel':
			return changeChannel(state, command.channelId, () => null);
		case 'setFader':
			return changeChannel(state, command.channelId, (now) => ({ ...now, gainDb: command.gainDb }));
		case 'setMute':
			return changeChannel(state, command.channelId, (now) => ({ ...now, muted: command.muted }));
		case 'pressChannel':
			return changeChannel(state, command.channelId, (now) => ({ ...now, pressed: command.pressed }));
		case 'setGroupFader':
			return changeGroup(command.fadeMs === undefined ? state : withFade(state, command.fadeMs), command.group, {
				gainDb: command.gainDb,
			});
		case 'setGroupMute':
			return changeGroup(state, command.group, { muted: command.muted });
		case 'setDucking':
			return changed(state, { mix: { ...mix, ducking: command.ducking } });
		case 'setMaster':
			return changed(state, { mix: { ...mix, master: command.master } });
		case 'storeSnapshot': {
			const others = mix.snapshots.filter(({ id }) => id !== command.snapshot.id);
			return changed(state, { mix: { ...mix, snapshots: [...others, command.snapshot] } });
		}
		case 'removeSnapshot': {
			const snapshots = mix.snapshots.filter(({ id }) => id !== command.snapshotId);
			if (snapshots.length === mix.snapshots.length) return refused('This snapshot is no longer there.');
			return changed(state, { mix: { ...mix, snapshots } });
		}
		case 'recallSnapshot': {
			const snapshot = mix.snapshots.find(({ id }) => id === command.snapshotId);
			if (!snapshot) return refused('This snapshot is no longer there.');
			const channels = state.channels.map((channel) => recalled(channel, snapshot));
			return changed(withFade(state, command.fadeMs), { channels });
		}
		case 'setHush':
			return changed(state, { hushed: command.hushed });
	}
}

function changeChannel(state: ShowState, id: string, change: (now: Channel) => Channel | null): Outcome {
	if (!state.channels.some((channel) => channel.id === id)) return refused('This channel is no longer there.');
	const channels = state.channels.map((channel) => (channel.id === id ? change(channel) : channel));
	return changed(state, { channels: channels.filter((channel) => channel !== null) });
}

/** What changes with it gets there in this time. */
function withFade(state: ShowState, ms: number): ShowState {
	return { ...state, mix: { ...state.mix, fade: { count: state.mix.fade.count + 1, ms } } };
}

function changeGroup(state: ShowState, group: Group, part: Partial<Mix['groups'][Group]>): Outcome {
	const { groups } = state.mix;
	return changed(state, { mix: { ...state.mix, groups: { ...groups, [group]: { ...groups[group], ...part } } } });
}

function recalled(channel: Channel, { channels }: Snapshot): Channel {
	const kept = channels.find(({ id }) => id === channel.id);
	return kept ? { ...channel, ...kept } : channel;
}

/** What a snapshot keeps of channels. */
export function snapshotOf(id: string, name: string, channels: readonly Channel[]): Snapshot {
	return {
		id,
		name,
		channels: channels.map(({ id: channelId, gainDb, muted, strip, group, follow, ducked, shares }) => ({
			id: channelId,
			gainDb,
			muted,
			strip,
			group,
			follow,
			ducked,
			shares,
		})),
	};
}
