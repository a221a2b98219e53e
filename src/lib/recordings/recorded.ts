import type { Marker } from '../../core/show/broadcast/chapters.ts';

/** A recording as its page shows it. */
export interface Recorded {
	id: string;
	broadcastId: string;
	startedAt: number;
	/** `finishing`: an ordinary file is being made of what was written in pieces; it takes the place of the other. */
	state: 'recording' | 'finishing' | 'finished';
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

/** True for what lies beside a program, on its line of time. */
export function isBeside({ kind }: Pick<Recorded, 'kind'>): boolean {
	return kind !== 'program' && kind !== 'excerpt';
}

/** True for what a guest's own browser has recorded. */
export function isOwn({ kind }: Pick<Recorded, 'kind'>): boolean {
	return kind === 'own' || kind === 'ownRoughly';
}
