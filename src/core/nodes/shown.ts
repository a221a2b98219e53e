/** A node as its owner sees it. */
import type { Emptying, NodeLoad } from './load.ts';

export interface NodeShown {
	id: string;
	/** Host and port. */
	name: string;
	version: string;
	/** When it was built, milliseconds since 1970, where another node of the same version was built at another time; else null. */
	builtAt: number | null;
	/** Milliseconds since 1970. */
	startedAt: number;
	/** Milliseconds since it was seen last. */
	seenMs: number;
	/** False for one that is gone; it is listed for a day. */
	isThere: boolean;
	/** True for the one that has made the page. */
	isThis: boolean;
	emptying: Emptying | null;
	load: NodeLoad;
	/** Of the first organisation; `load.events` counts those of others as well. */
	events: { id: string; title: string; onAir: boolean }[];
}
