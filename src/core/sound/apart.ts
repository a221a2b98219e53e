/**
 * Sound and picture apart: noticed from the delays between a camera's own sound, which comes with its picture, and a
 * sound of the same thing that comes another way.
 */
import type { Channel } from '../show/mix/mix.ts';
import { kindOf } from '../show/sources/source.ts';
import type { ShowState } from '../show/state.ts';

/** Where people begin to notice (ITU-R BT.1359-1): sound before the picture by so much, or behind it. */
export const NOTICED_MS = { before: 45, behind: 125 } as const;
/** Two measurements that differ by more than this do not agree. */
export const AGREE_MS = 15;

export interface Apart {
	/** The channel that viewers hear. */
	channelId: string;
	/** The camera whose picture it belongs to. */
	sourceId: string;
	/** Milliseconds by which the sound is ahead of the picture with the delays set now; negative when it is behind. */
	beforeMs: number;
}

/** A camera's own sound, and one that may be of the same thing. */
export interface Pair {
	camera: Channel;
	other: Channel;
}

/** Channels that may hear the same: those of cameras, each with every spoken one that comes another way. */
export function comparable({ setup: { channels, sources } }: ShowState): Pair[] {
	const isCamera = ({ sourceId }: Channel) =>
		sources.some((source) => source.id === sourceId && kindOf(source).showsLips);
	const others = channels.filter((channel) => channel.group === 'speech' && !isCamera(channel));
	return channels.filter(isCamera).flatMap((camera) => others.map((other) => ({ camera, other })));
}

/**
 * What viewers notice of a measured delay.
 * @param cameraBehindMs by how much the camera's sound is behind the other, both as they come in
 */
export function judgeApart(camera: Channel, other: Channel, cameraBehindMs: number): Apart | null {
	const beforeMs = cameraBehindMs - other.strip.delayMs;
	const noticed = beforeMs > NOTICED_MS.before || -beforeMs > NOTICED_MS.behind;
	return noticed ? { channelId: other.id, sourceId: camera.sourceId, beforeMs } : null;
}
