/** What a node has to do and room for, and which node an event goes to. */
import * as v from 'valibot';

const amount = v.pipe(v.number(), v.finite(), v.minValue(0));

export const nodeLoadSchema = v.object({
	/** Cores that the process may use, and that all of the machine uses now. */
	cores: amount,
	usedCores: amount,
	/** What its network card sends now, and could send, kbit/s; null where the card does not say. */
	sendsKbps: amount,
	lineKbps: v.nullable(amount),
	/** Room on the disk of its recordings, bytes; null while that is not known. */
	diskBytes: v.nullable(amount),
	/** Events that are open on it, and those of them that are on air. */
	events: amount,
	onAir: amount,
	/** Files of recordings that lie on it alone, those being written included. */
	keeps: v.optional(amount, 0),
});
export type NodeLoad = v.InferOutput<typeof nodeLoadSchema>;

/** A node as others know it. */
export interface KnownNode {
	id: string;
	load: NodeLoad;
	/** How somebody empties it: it takes no new events. Null where nobody does. */
	emptying: Emptying | null;
}

/**
 * What becomes of the events of a node that is emptied. Those off air go to other nodes at once in either case: those on
 * air when they end, or now, with the holding card for a moment.
 */
export type Emptying = 'atEnd' | 'now';

/** A disk with this much room lacks none: some twenty evenings at 6 Mbit/s. */
const PLENTY_BYTES = 200e9;
/** Of 1 Mbit/s to one host, measured on two cores of 2.5 GHz. */
const CORES_OF_AN_EVENT = 0.01;

/** What a load says that was stored by any version; null when it says nothing of use. */
export function readLoad(stored: unknown): NodeLoad | null {
	const read = v.safeParse(nodeLoadSchema, stored);
	return read.success ? read.output : null;
}

/** A load is that of the last seconds: it is measured each second, and compared with what was counted so many times ago. */
export const LOOKS_BACK = 10;

/**
 * Remembers counts, for a rate over the last seconds.
 * @returns takes a new count, and hands out the one of {@link LOOKS_BACK} times before, or the oldest there is; null at first
 */
export function lately<Count>(): (now: Count) => Count | null {
	const counts: Count[] = [];
	return (now) => {
		const then = counts[0] ?? null;
		counts.push(now);
		if (counts.length > LOOKS_BACK) counts.shift();
		return then;
	};
}

/** How much of a node is free, 0 to 1: the part that is free of whatever it has least of. */
export function roomOf({ cores, usedCores, sendsKbps, lineKbps, diskBytes }: NodeLoad): number {
	const free = [cores > 0 ? 1 - usedCores / cores : 0];
	if (lineKbps !== null && lineKbps > 0) free.push(1 - sendsKbps / lineKbps);
	if (diskBytes !== null) free.push(diskBytes / PLENTY_BYTES);
	return Math.min(1, Math.max(0, Math.min(...free)));
}

/** A load with events to come, as far as it is known what they will cost: most are quiet at first. */
export function withGiven(load: NodeLoad, events: number): NodeLoad {
	return { ...load, usedCores: load.usedCores + events * CORES_OF_AN_EVENT, events: load.events + events };
}

/** The node that a new event goes to: that with the most room, and of equals that with the fewest events. Null when there is none. */
export function roomiest(nodes: readonly KnownNode[]): string | null {
	const ranked = nodes
		.filter(takes)
		// A hundredth more or less is chance.
		.map(({ id, load }) => ({ id, room: Math.round(100 * roomOf(load)), events: load.events }))
		.toSorted((a, b) => b.room - a.room || a.events - b.events || (a.id < b.id ? -1 : 1));
	return ranked[0]?.id ?? null;
}

/** True for a node that takes events. */
export function takes({ emptying }: Pick<KnownNode, 'emptying'>): boolean {
	return emptying === null;
}

/** A node that is full still takes its part of what has nobody else. */
const LEAST_WEIGHT = 0.02;

/**
 * The node that follows for an event whose owner is gone. Every node finds the same one without asking, and many events of
 * one owner spread over the others by the room that these have: weighted rendezvous hashing.
 * @param passed nodes that had their turn, and did not take it
 */
export function follower(
	eventId: string,
	nodes: readonly KnownNode[],
	passed: ReadonlySet<string> = new Set(),
): string | null {
	const left = nodes.filter(({ id }) => !passed.has(id));
	const taking = left.some(takes) ? left.filter(takes) : left;
	const scored = taking.map(({ id, load }) => {
		const weight = Math.max(LEAST_WEIGHT, roomOf(load));
		return { id, score: -weight / Math.log(chance(`${eventId} ${id}`)) };
	});
	return scored.toSorted((a, b) => b.score - a.score)[0]?.id ?? null;
}

/** A number between 0 and 1, both excluded, that is always the same for a text: FNV-1a with the finisher of MurmurHash3. */
function chance(text: string): number {
	let hash = 0x811c9dc5;
	for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
	hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
	hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
	return (((hash ^ (hash >>> 16)) >>> 0) + 0.5) / 2 ** 32;
}
