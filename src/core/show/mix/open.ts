/** Whether a channel is heard in the stream mix, by what the show says of it. */
import { isInProgram } from '../clips/source.ts';
import type { ShowState } from '../state.ts';
import type { Channel } from './mix.ts';

/** The lowest place of a fader is silence, dB. */
const SILENT_DB = -60;

/** True when a channel may be heard now: one that waits for its picture or for a press may not. */
export function isOpen({ id, follow, followed, sourceId }: Channel, state: ShowState): boolean {
	if (follow === 'press') return state.live.pressed.includes(id);
	return follow === 'always' || (follow === 'onAir' && isInProgram(state, followed ?? sourceId));
}

/** True when a channel is open and nobody has closed it, or its group; whoever sits in its source's seat may be heard. */
export function isHeard(channel: Channel, state: ShowState): boolean {
	const { group, muted, sourceId } = channel;
	const isQuiet = state.live.guests.some(({ seatId, heard }) => seatId === sourceId && !heard);
	return isOpen(channel, state) && !muted && !isQuiet && !(group !== null && state.setup.mix.groups[group].muted);
}

/** True when viewers hear something of a source that has a sound. */
export function isSourceHeard(state: ShowState, sourceId: string): boolean {
	const { channels, mix } = state.setup;
	return channels.some((channel) => {
		if (channel.sourceId !== sourceId || channel.gainDb <= SILENT_DB) return false;
		const isDown = channel.group !== null && mix.groups[channel.group].gainDb <= SILENT_DB;
		return isHeard(channel, state) && !isDown && !state.live.hushed;
	});
}
