/** What a measured delay means for a channel, in words. */
import type { Channel } from '../../../core/show/mix/mix.ts';
import type { ClapEstimate } from '../../../core/sound/clap.ts';
import type { DelayEstimate } from '../../../core/sound/delay-estimate.ts';
import { delayRefusals } from './sound.ts';

export interface Advice {
	says: string;
	/** What the channel's delay should be, or null when nothing is to be set. */
	delayMs: number | null;
}

/** Nobody sees or hears less than this; a picture lasts longer. */
const UNNOTICED_MS = 8;
const UNNOTICED_PICTURE_MS = 40;
const MOST_MS = 1000;

/**
 * @param found by how much the other is behind this channel, both as they come in
 * @param otherName of the channel or source that it was measured against
 * @param otherDelayMs what is set there already
 */
export function delayAdvice(
	found: DelayEstimate | ClapEstimate,
	channel: Pick<Channel, 'name' | 'strip'>,
	otherName: string,
	otherDelayMs: number,
): Advice {
	if ('refused' in found) return { says: delayRefusals[found.refused], delayMs: null };
	const byClap = 'claps' in found;
	const certainty = byClap
		? `${found.claps} claps agree within ${Math.round(found.spreadMs)} ms`
		: `${found.certainty.toFixed(1)} times as clear as the next best`;
	const behindMs = Math.round(found.delayMs);
	const other = byClap ? `the picture of ${otherName}` : otherName;
	const measured =
		behindMs === 0
			? `${channel.name} and ${other} come together`
			: behindMs > 0
				? `${channel.name} comes ${behindMs} ms before ${other}`
				: `${channel.name} comes ${-behindMs} ms after ${other}`;
	const delayMs = behindMs + Math.round(otherDelayMs);
	const away = Math.abs(delayMs - channel.strip.delayMs);
	const says = `${measured} (${certainty}).`;
	if (away <= (byClap ? UNNOTICED_PICTURE_MS : UNNOTICED_MS))
		return { says: `${says} As it is set, nobody will notice.`, delayMs: null };
	if (delayMs > MOST_MS) return { says: `${says} That is more than can be set here.`, delayMs: null };
	if (delayMs >= 0) return { says, delayMs };
	const instead = byClap ? 'A picture cannot be delayed here' : `Delay ${otherName} by ${-behindMs} ms instead`;
	return channel.strip.delayMs > 0
		? { says: `${says} ${instead}; less delay helps.`, delayMs: 0 }
		: { says: `${says} ${instead}.`, delayMs: null };
}
