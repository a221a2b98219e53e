/** The nodes there are, as the database has them: each says every second that it is there, and what it has to do. */
import { readFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { and, eq, gt, lt, ne, sql } from 'drizzle-orm';
import { lately, readLoad, withGiven, type Emptying, type KnownNode, type NodeLoad } from '../../core/nodes/load.ts';
import type { Db } from '../db/database.ts';
import { nodes } from '../db/schema.ts';
import { log } from '../log.ts';
import { DATABASE_NOW } from './leases.ts';

const BEAT_MS = 1000;
const GIVEN_MS = 2000;
/** A database that has not answered for so long is away; when it is back, owners of leases go first for so long. */
export const AWAY_MS = 1700;
const GRACE_MS = 4000;
/** A node that has not been seen for so long is gone. */
const GONE_MS = 4000;
/** One that has not been seen for so long may be gone soon; it is looked after for so long. */
const SILENT_MS = 1600;
const LOOKED_AFTER_MS = 10_000;
/** One that is gone is listed for a day, for whoever looks for it. */
const FORGOTTEN_MS = 86_400_000;

export interface NodeRow extends KnownNode {
	url: string;
	publicUrl: string | null;
	/** As core/nodes/build.ts writes it. */
	version: string;
	startedAt: number;
	/** Milliseconds since it was seen, by the database's clock. */
	seenMs: number;
	isThere: boolean;
}

export interface Self {
	id: string;
	url: string;
	publicUrl: string | null;
	/** Of the key that nodes share. */
	keyMark: string;
	/** As core/nodes/build.ts writes it. */
	version: string;
}

/** What a node has open, and keeps alone. */
export type NodeCounts = Pick<NodeLoad, 'events' | 'onAir' | 'keeps'>;

const NO_LOAD: NodeLoad = {
	cores: 0,
	usedCores: 0,
	sendsKbps: 0,
	lineKbps: null,
	diskBytes: null,
	events: 0,
	onAir: 0,
	keeps: 0,
};

export class Registry {
	readonly self: Self;
	readonly #db: Db;
	readonly #measure: () => Promise<NodeLoad>;
	readonly #startedAt = Date.now();
	readonly #queries: ReturnType<typeof queriesOf>;
	#rows: NodeRow[] = [];
	#timer: NodeJS.Timeout | undefined;
	#beating: Promise<void> | null = null;
	#isLeaving = false;
	/** Told the addresses of nodes that are there, about once a second. */
	onSeen: (urls: ReadonlySet<string>) => void = () => {};
	/** How many events each node was given a moment ago. */
	readonly #given = new Map<string, number>();
	#answeredAt = 0;
	#graceUntil = 0;

	constructor(db: Db, self: Self, measure: () => Promise<NodeLoad>) {
		this.#db = db;
		this.self = self;
		this.#measure = measure;
		this.#queries = queriesOf(db, self.id);
	}

	/** Is there from now on. @throws when the database does not take it, or other nodes have another key */
	async begin(): Promise<void> {
		const strangers = await this.#db
			.select({ url: nodes.url })
			.from(nodes)
			.where(and(ne(nodes.keyMark, this.self.keyMark), gt(nodes.seenAt, sql`${DATABASE_NOW} - ${GONE_MS}`)));
		if (strangers.length > 0)
			throw new Error(
				`The node at ${strangers[0]!.url} has another key: the shared folder of this one is not that which nodes share. Mount it, or set BIVVO_SHARED.`,
			);
		await this.#enter();
		await this.#beat();
		// Where nobody else was seen a moment ago, they may all have been without the database until now, as this one was.
		const others = this.#rows.filter(({ id }) => id !== this.self.id);
		if (others.length > 0 && others.every(({ seenMs }) => seenMs > AWAY_MS))
			this.#graceUntil = performance.now() + GRACE_MS;
		this.#timer = setInterval(() => {
			this.#beating ??= this.#beat()
				.catch((error: unknown) => log.warn({ err: error }, 'Nobody is told that this node is there'))
				.finally(() => (this.#beating = null));
		}, BEAT_MS);
	}

	/** Milliseconds since the database has answered. */
	get databaseSeenMs(): number {
		return performance.now() - this.#answeredAt;
	}

	/** True while the database is away, or may have been for others, and for a moment after that. */
	get isGrace(): boolean {
		return this.databaseSeenMs > AWAY_MS || performance.now() < this.#graceUntil;
	}

	/** Has a row from now on. */
	async #enter(): Promise<void> {
		const { id, ...self } = this.self;
		const now = { ...self, seenAt: DATABASE_NOW, load: NO_LOAD };
		await this.#db
			.insert(nodes)
			.values({ id, startedAt: this.#startedAt, ...now })
			.onDuplicateKeyUpdate({ set: now });
	}

	async #beat(): Promise<void> {
		const [{ affectedRows }] = await this.#queries.seen.execute({ load: await this.#measure() });
		// Somebody has tidied up, or the database was put back.
		if (affectedRows === 0) await this.#enter();
		await this.#look();
		const answered = performance.now();
		if (this.#answeredAt > 0 && answered - this.#answeredAt > AWAY_MS) this.#graceUntil = answered + GRACE_MS;
		this.#answeredAt = answered;
		// After the database was away, nobody has had the time to say that it is there.
		if (!this.isGrace) this.onSeen(new Set(this.there.map(({ url }) => url)));
	}

	async #look(): Promise<void> {
		const rows = await this.#queries.all.execute();
		this.#rows = rows.map(({ node, seenMs }) => ({
			id: node.id,
			url: node.url,
			publicUrl: node.publicUrl,
			version: node.version,
			startedAt: node.startedAt,
			emptying: node.emptying,
			load: readLoad(node.load) ?? NO_LOAD,
			seenMs: Number(seenMs),
			isThere: Number(seenMs) < GONE_MS,
		}));
	}

	/** All of the last day, as they were a second ago. */
	get all(): readonly NodeRow[] {
		return this.#rows;
	}

	/** True while another node, that was there a moment ago, has not been seen for longer than nodes are silent. */
	get isSomeoneSilent(): boolean {
		return this.#rows.some(({ id, seenMs }) => id !== this.self.id && seenMs > SILENT_MS && seenMs < LOOKED_AFTER_MS);
	}

	/** Those that events can be given to, this one included; with what was given to each since it said how it does. */
	get there(): readonly NodeRow[] {
		const given = (node: NodeRow) => this.#given.get(node.id) ?? 0;
		return this.#rows
			.filter(({ isThere }) => isThere)
			.map((node) => ({ ...node, load: withGiven(node.load, given(node)) }));
	}

	/** Notes that an event goes to a node, which will say so itself within a second or two. */
	give(id: string): void {
		this.#given.set(id, (this.#given.get(id) ?? 0) + 1);
		setTimeout(() => this.#given.set(id, this.#given.get(id)! - 1), GIVEN_MS).unref();
	}

	find(id: string): NodeRow | null {
		return this.#rows.find((row) => row.id === id) ?? null;
	}

	/** Empties a node, or lets it take events again for null. It follows within a second. */
	async setEmptying(id: string, emptying: Emptying | null): Promise<void> {
		await this.#db.update(nodes).set({ emptying }).where(eq(nodes.id, id));
		await this.#look();
	}

	/** How this node is emptied, as it was told a second ago. */
	get emptying(): Emptying | null {
		return this.#isLeaving ? 'now' : (this.find(this.self.id)?.emptying ?? null);
	}

	/** Says for the last time what it has: nothing, when all went well. */
	async conclude(): Promise<void> {
		await this.#queries.load
			.execute({ load: await this.#measure() })
			.catch((error: unknown) => log.warn({ err: error }, 'Nobody is told what this node had in the end'));
	}

	/** Goes in good order: nobody waits for it, and it takes nothing more. */
	async leave(): Promise<void> {
		this.#isLeaving = true;
		clearInterval(this.#timer);
		await this.#beating;
		const forgotten = sql`${DATABASE_NOW} - ${FORGOTTEN_MS}`;
		await this.#db
			.update(nodes)
			.set({ seenAt: sql`${DATABASE_NOW} - ${GONE_MS}` })
			.where(eq(nodes.id, this.self.id))
			.catch((error: unknown) => log.warn({ err: error }, 'Nobody is told that this node is gone'));
		await this.#db
			.delete(nodes)
			.where(lt(nodes.seenAt, forgotten))
			.catch(() => {});
	}
}

/** The statements of each second, built once: building them takes longer than the database does. @param id of this node */
function queriesOf(db: Db, id: string) {
	const load = sql`${sql.param(sql.placeholder('load'), nodes.load)}`;
	return {
		load: db.update(nodes).set({ load }).where(eq(nodes.id, id)).prepare(),
		seen: db.update(nodes).set({ seenAt: DATABASE_NOW, load }).where(eq(nodes.id, id)).prepare(),
		all: db
			.select({ node: nodes, seenMs: sql<number>`${DATABASE_NOW} - ${nodes.seenAt}` })
			.from(nodes)
			.where(gt(nodes.seenAt, sql`${DATABASE_NOW} - ${FORGOTTEN_MS}`))
			.prepare(),
	};
}

/**
 * Measures the load of this machine, from what its kernel counts: over the last seconds, since an event stays for an
 * evening where one moment has put it.
 * @param folder on the disk of the recordings
 */
export function machineLoad(folder: string, counts: () => NodeCounts): () => Promise<NodeLoad> {
	const ticksThen = lately<{ busy: number; all: number }>();
	const sentThen = lately<{ at: number; bytes: number } | null>();
	return async () => {
		const card = cardNow();
		const sent = card && { at: performance.now(), bytes: card.bytes };
		const sentBefore = sentThen(sent);
		const disk = await statfs(folder).catch(() => null);
		const ticks = ticksNow();
		// At first, all that it has done since it was started.
		const before = ticksThen(ticks) ?? { busy: 0, all: 0 };
		const all = ticks.all - before.all;
		return {
			cores: availableParallelism(),
			usedCores: all > 0 ? (availableParallelism() * (ticks.busy - before.busy)) / all : 0,
			// Another card may be the one that sends most by now.
			sendsKbps:
				sent && sentBefore ? Math.max(0, ((sent.bytes - sentBefore.bytes) * 8) / (sent.at - sentBefore.at)) : 0,
			lineKbps: card?.kbps ?? null,
			diskBytes: disk && disk.bavail * disk.bsize,
			...counts(),
		};
	};
}

/** What all cores have done since the machine was started, in ticks. */
function ticksNow(): { busy: number; all: number } {
	// User, nice, system, idle, waiting for disks, interrupts of two kinds, and what other machines of the same host have
	// taken; guests are a part of user (proc(5)). `os.cpus` reads far more than that.
	const [user = 0, nice = 0, system = 0, idle = 0, waiting = 0, ...others] = (
		/^cpu +(.*)$/m.exec(readNow('/proc/stat'))?.[1]?.split(' ') ?? []
	)
		.slice(0, 8)
		.map(Number);
	const busy = user + nice + system + others.reduce((sum, each) => sum + each, 0);
	return { busy, all: busy + idle + waiting };
}

/** The network card that has sent most, which is the one that streams go by; null where none is listed. */
function cardNow(): { bytes: number; kbps: number | null } | null {
	const table = readNow('/proc/net/dev');
	const cards = table
		.split('\n')
		.map((line) => /^\s*([^:\s]+):\s*(?:\d+\s+){8}(\d+)/.exec(line))
		.flatMap((found) => (found && found[1] !== 'lo' ? [{ name: found[1]!, bytes: Number(found[2]) }] : []));
	const most = cards.toSorted((a, b) => b.bytes - a.bytes)[0];
	if (!most) return null;
	const mbit = Number(readNow(`/sys/class/net/${most.name}/speed`));
	return { bytes: most.bytes, kbps: mbit > 0 ? mbit * 1000 : null };
}

/** What the kernel says at once; '' where it says nothing. */
function readNow(file: string): string {
	try {
		return readFileSync(file, 'utf8');
	} catch {
		return '';
	}
}
