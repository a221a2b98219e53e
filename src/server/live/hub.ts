/**
 * The hub of one event: puts commands in order, stores them, and tells everybody. Every page runs the same reducer on
 * what it says, so the state itself is sent once only, as the welcome. What is due by itself the hub does.
 */
import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { forbiddenRun } from '../../core/access/orders.ts';
import { COMMAND_RULES, forbiddenPart, whoMay } from '../../core/access/policy.ts';
import type { AnyRole } from '../../core/access/roles.ts';
import { Refusal, refuse } from '../../core/refusal.ts';
import { idSchema } from '../../core/show/basics.ts';
import { pageCommandSchema, type Command } from '../../core/show/command.ts';
import { firstDue, type Due } from '../../core/show/due.ts';
import type { Applied, BroadcastLoudness, EngineReport, HubMessage, SoundReport } from '../../core/show/messages.ts';
import { reduce } from '../../core/show/reduce.ts';
import { isFollowDue } from '../../core/show/runsheet/go.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import type { Unreadable } from '../../core/show/stored.ts';
import { log } from '../log.ts';
import { REMEMBERED, type Journal, type Stored } from './journal.ts';

/** `Applied.by` of commands that the server itself makes. */
export const SERVER = 'server';
/** A timer of Node's takes 24 days at most; a longer wait is taken in steps. */
const LONGEST_WAIT_MS = 86_400_000;

/** How long the engine is given for what it does by itself: a clip may have begun late, for want of its first frame. */
const ENGINE_GRACE_MS = 3000;
/** The engine's clock may be ahead of the server's by so much. */
const EARLY_MS = 1000;

/** Who sends a command. */
export interface Sender {
	/** The page, by the name that the server has given it. */
	client: string;
	role: AnyRole;
}

/** The right to make the program. */
interface Lease {
	client: string;
	/** Made once, since each packet of sound and picture is shown with it. */
	secret: string;
	/** True while that page gives way to a desk. */
	yields: boolean;
}

export class Hub {
	readonly eventId: string;
	readonly journal: Journal;
	/** What of the event could not be read when it was opened. */
	readonly unreadable: readonly Unreadable[];
	#state: ShowState;
	#seq: number;
	#recent: Set<string>;
	/** Those of them that are on their way to the database. */
	readonly #storing = new Map<string, Promise<unknown>>();
	/** When the newest of those is told: none is before those that were ordered before it. */
	#told: Promise<unknown> = Promise.resolve();
	/** Those that were told, and could not be written yet. */
	readonly #kept = new Set<string>();
	#listeners = new Set<(message: HubMessage) => void>();
	#due: NodeJS.Timeout | undefined;
	#closed = false;
	/** Called with each command after it is stored, before all other listeners. */
	onApplied: (applied: Applied, state: ShowState) => void = () => {};
	/** The page that makes the program. Not a part of the show: it ends with the page's connection. */
	#lease: Lease | null = null;
	readonly #secretOf: (client: string) => string;
	report: EngineReport | null = null;
	/** What the engine hears. */
	sound: SoundReport | null = null;
	/** Kept for the page that makes the program when this one no longer does. */
	loudness: BroadcastLoudness | null = null;

	/** @param secretOf what a page shows when it sends the program; the same for a page whenever it is asked for */
	constructor(stored: Stored, journal: Journal, secretOf: (client: string) => string) {
		this.#secretOf = secretOf;
		this.eventId = stored.eventId;
		this.unreadable = stored.unreadable;
		this.journal = journal;
		this.#state = stored.state;
		this.#seq = stored.seq;
		this.#recent = new Set(stored.recentIds);
	}

	get state(): ShowState {
		return this.#state;
	}

	get seq(): number {
		return this.#seq;
	}

	/** The page that makes the program; null while none does. */
	get engine(): string | null {
		return this.#lease?.client ?? null;
	}

	/** The secret of the lease, for the page that has it only. */
	leaseOf(client: string): string | null {
		return this.#lease?.client === client ? this.#lease.secret : null;
	}

	/** True for the secret of the lease there is now: what it is shown with comes from the page that makes the program. */
	holdsLease(secret: string): boolean {
		return secret === this.#lease?.secret;
	}

	/**
	 * Checks, orders, stores and announces a command of a page.
	 * @param by the page that sent it, and what whoever sits at it may do
	 * @param id the sender's name for it
	 * @param command as it came
	 * @returns `before` when it had been done already: one that is sent again counts once
	 * @throws {Refusal} when it cannot be done, is none that a page may send, or none that this one may
	 */
	async submit({ client, role }: Sender, id: string, command: unknown): Promise<'applied' | 'before'> {
		const read = v.safeParse(pageCommandSchema, command);
		if (!read.success) throw refuse('invalid', { problem: read.issues[0].message });
		if (!v.is(idSchema, id)) throw refuse('invalid', { problem: 'commandNameless' });
		const forbidden = forbiddenPart(role, read.output) ?? forbiddenRun(role, this.#state.setup, read.output);
		if (forbidden) throw refuse('forbidden', { who: whoMay(COMMAND_RULES[forbidden]) });
		return this.#apply(client, id, read.output);
	}

	/**
	 * Does a command of the server's own.
	 * @throws {Refusal} when it cannot be done
	 */
	async submitAsServer(command: Command, id: string = randomUUID()): Promise<void> {
		await this.#apply(SERVER, id, command);
	}

	/**
	 * Does what the engine has done already, when its time has come or is about to.
	 * @throws {Refusal} when it is not due any more
	 */
	async fallDue(by: string, id: string, dueId: string): Promise<'applied' | 'before'> {
		const entry = this.#state.live.due.find((due) => due.id === dueId);
		if (!entry || entry.at - Date.now() > EARLY_MS) throw refuse('gone', { what: 'due' });
		return this.#apply(by, id, { type: 'fallDue', dueId });
	}

	async #apply(by: string, id: string, command: Command): Promise<'applied' | 'before'> {
		if (this.#recent.has(id) || this.#kept.has(id)) {
			// Asked again before it is stored, it is not said to be done before.
			await this.#storing.get(id);
			return 'before';
		}
		const at = Date.now();
		const { state } = reduce(this.#state, command, at);
		this.#remember(id);
		this.#state = state;
		const applied: Applied = { type: 'applied', seq: ++this.#seq, at, by, id, command };
		this.#waitForDue();
		const appended = this.journal.append(applied, state);
		// It may fail while those before it are waited for.
		appended.catch(() => {});
		const storing = this.#told.then(() => appended).finally(() => this.#storing.delete(id));
		this.#told = storing.catch(() => {});
		this.#storing.set(id, storing);
		const added = await storing;
		const isKept = added !== null && !added.isWritten;
		if (isKept) this.#keep(id, added.written);
		this.onApplied(applied, state);
		this.announce(isKept ? { ...applied, kept: true } : applied);
		return 'applied';
	}

	/** Whoever has said it says it again to the next owner, unless it is written by then. */
	#keep(id: string, written: Promise<void>): void {
		this.#kept.add(id);
		const stored = () => {
			this.#kept.delete(id);
			// A page that was away may still say it again.
			this.#remember(id);
			this.announce({ type: 'done', id });
		};
		written.then(stored, () => this.#kept.delete(id));
	}

	/** True for a command that is done, and not written yet. */
	isKept(id: string): boolean {
		return this.#kept.has(id);
	}

	#remember(id: string): void {
		this.#recent.delete(id);
		this.#recent.add(id);
		if (this.#recent.size > REMEMBERED) this.#recent.delete(this.#recent.values().next().value!);
	}

	/** Calls all listeners. */
	announce(message: HubMessage): void {
		for (const listener of this.#listeners) listener(message);
	}

	/** @returns a function that ends the subscription */
	subscribe(listener: (message: HubMessage) => void): () => void {
		this.#listeners.add(listener);
		return () => this.#listeners.delete(listener);
	}

	/** Does what is due, also what fell due while the server was stopped. Called once the event is open. */
	begin(): void {
		this.#waitForDue();
	}

	#waitForDue(): void {
		clearTimeout(this.#due);
		const first = firstDue(this.#state);
		if (!first || this.#closed) return;
		const wait = Math.min(Math.max(0, this.#waitsUntil(first) - Date.now()), LONGEST_WAIT_MS);
		this.#due = setTimeout(() => this.#fallDue(first), wait);
	}

	/** What the engine does to the frame, it is left to do; when it does not, it is done here. */
	#waitsUntil({ id, at }: Due): number {
		return isFollowDue(id) && this.engine !== null ? at + ENGINE_GRACE_MS : at;
	}

	#fallDue(entry: Due): void {
		if (Date.now() < this.#waitsUntil(entry)) return this.#waitForDue();
		this.submitAsServer({ type: 'fallDue', dueId: entry.id }).catch((error: unknown) => {
			if (!(error instanceof Refusal)) log.error({ event: this.eventId, err: error }, 'What was due was not done');
		});
	}

	/**
	 * Makes a page the engine unless another one is; `takeOver` also then.
	 * @param yields whether it gives way, off air, to any page that asks and does not yield itself
	 * @returns true when it is the engine now
	 */
	leaseEngine(client: string, takeOver: boolean, yields = false): boolean {
		const givesWay = this.#lease?.yields === true && !yields && !isOnAir(this.state);
		const isOwn = this.#lease?.client === client;
		if (this.#lease === null || ((takeOver || givesWay) && !isOwn))
			this.#lease = { client, secret: this.#secretOf(client), yields };
		else if (isOwn) this.#lease.yields = yields;
		this.#waitForDue();
		return this.engine === client;
	}

	/** A page is gone. */
	release(client: string): void {
		if (this.engine !== client) return;
		this.#lease = null;
		this.report = this.sound = null;
		this.#waitForDue();
	}

	close(): Promise<void> {
		this.#closed = true;
		clearTimeout(this.#due);
		return this.journal.close();
	}
}
