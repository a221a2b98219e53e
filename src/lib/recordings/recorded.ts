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
	kind: 'program' | 'source' | 'channel' | 'excerpt';
	/** What was recorded apart: the name of the source or channel. */
	name: string;
	/** Recordings with the same one began at the same instant. */
	set: string;
	markers: Marker[];
}
