/** The mixer's plan, from the show: which channels are open, how loud, and with which settings. A pure function. */
import { BED_FADE_MS } from '../show/clips/clip.ts';
import { clipOf, isBed } from '../show/clips/source.ts';
import type { Channel, CompressorSettings, Mix, Strip } from '../show/mix/mix.ts';
import { isHeard } from '../show/mix/open.ts';
import type { ShowState } from '../show/state.ts';
import { linearGain } from './ramp.ts';

/** A channel as the mixer needs it. */
export interface ChannelPlan {
	strip: Strip;
	/** Linear; 0 when it is not heard. */
	gain: number;
	/** Milliseconds in which it gets there. */
	rampMs: number;
	speaks: boolean;
	ducked: boolean;
	shares: boolean;
}

export interface MixPlan {
	/** By input of the mixer; null where nothing is. */
	channels: (ChannelPlan | null)[];
	ducking: Mix['ducking'];
	master: { gain: number; compressor: CompressorSettings; ceilingDb: number };
	hushed: boolean;
}

/** Short enough for a hand, long enough for an ear: no step is heard as a click. */
export const HAND_MS = 20;
/** Fade of a channel that follows its picture, milliseconds; that of a clip is open at once and faded at its end only. */
export const FOLLOW_MS = 300;

/**
 * @param inputs the mixer's input of each channel, or null while its source is not open
 * @param most inputs the mixer has
 * @param fading true while this plan is the one that a fade leads to
 */
export function mixPlan(
	state: ShowState,
	inputs: (channelId: string) => number | null,
	most: number,
	fading: boolean,
): MixPlan {
	const { mix } = state.setup;
	const { hushed } = state.live;
	const channels: MixPlan['channels'] = Array.from({ length: most }, () => null);
	for (const channel of state.setup.channels) {
		const input = inputs(channel.id);
		if (input !== null && input < most) channels[input] = channelPlan(channel, state, fading);
	}
	const { gainDb, compressor, ceilingDb } = mix.master;
	return { channels, ducking: mix.ducking, master: { gain: linearGain(gainDb), compressor, ceilingDb }, hushed };
}

function channelPlan(channel: Channel, state: ShowState, fading: boolean): ChannelPlan {
	const { strip, group, follow, ducked, shares } = channel;
	const level = group === null ? null : state.setup.mix.groups[group];
	const heard = isHeard(channel, state);
	// A clip has a beginning of its own, which nothing is to be faded over.
	const opensAtOnce = heard && clipOf(state.setup, channel.followed ?? channel.sourceId) !== null;
	const gain = heard ? linearGain(channel.gainDb) * (level ? linearGain(level.gainDb) : 1) : 0;
	const followMs = isBedOf(channel, state) ? BED_FADE_MS : opensAtOnce ? HAND_MS : FOLLOW_MS;
	const rampMs = fading ? state.live.fade.ms : follow === 'onAir' ? followMs : HAND_MS;
	return { strip, gain, rampMs, speaks: group === 'speech', ducked, shares };
}

function isBedOf({ sourceId }: Channel, { setup }: ShowState): boolean {
	return isBed(setup.sources.find(({ id }) => id === sourceId));
}
