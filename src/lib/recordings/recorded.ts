import type { Marker } from '../../core/show/broadcast/chapters.ts';

/** A recording as its page shows it. */
export interface Recorded {
	id: string;
	broadcastId: string;
	startedAt: number;
	/**
	 * `finishing`: an ordinary file is being made of what was written in pieces; it takes the place of the other.
	 * `elsewhere`: another node writes it, or has not handed it over.
	 */
	state: 'recording' | 'finishing' | 'finished' | 'elsewhere';
	durationS: number;
	file: string;
	bytes: number;
	missing: boolean;
	kind: 'program' | 'source' | 'channel' | 'own' | 'ownRoughly' | 'excerpt';
	/** What was recorded apart: the name of the source, the channel or the guest. */
	name: string;
	/** Recordings with the same one began at the same instant. */
	set: string;
	markers: Marker[];
}

/**
 * What is listed as one: files of the same broadcast, which goes on in another one after the server was started again, on
 * another disk, or on another node. Excerpts stand for themselves.
 * @param recordings the newest first
 * @returns files of each, the oldest first
 */
export function asOne<T extends Pick<Recorded, 'broadcastId' | 'kind'>>(recordings: readonly T[]): T[][] {
	const broadcasts = new Map<string, T[]>();
	const all: T[][] = [];
	for (const each of recordings) {
		const known = each.kind === 'program' ? broadcasts.get(each.broadcastId) : undefined;
		if (known) {
			known.unshift(each);
			continue;
		}
		const files = [each];
		if (each.kind === 'program') broadcasts.set(each.broadcastId, files);
		all.push(files);
	}
	return all;
}

/** True for what lies beside a program, on its line of time. */
export function isBeside({ kind }: Pick<Recorded, 'kind'>): boolean {
	return kind !== 'program' && kind !== 'excerpt';
}

/** True for what a guest's own browser has recorded. */
export function isOwn({ kind }: Pick<Recorded, 'kind'>): boolean {
	return kind === 'own' || kind === 'ownRoughly';
}
