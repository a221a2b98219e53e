/**
 * The hub of one event: puts commands in order, stores them, and tells everybody. Every page runs the same reducer on
 * what it says, so the state itself is sent once only, as the welcome. What is due by itself the hub does.
 */
import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { Refusal, refuse } from '../../core/refusal.ts';
import { idSchema } from '../../core/show/basics.ts';
import { pageCommandSchema, type Command } from '../../core/show/command.ts';
import { firstDue, type Due } from '../../core/show/due.ts';
import type { Applied, BroadcastLoudness, EngineReport, HubMessage, SoundReport } from '../../core/show/messages.ts';
import { reduce } from '../../core/show/reduce.ts';
import type { ShowState } from '../../core/show/state.ts';
import type { Unreadable } from '../../core/show/stored.ts';
import { log } from '../log.ts';
import { REMEMBERED, type Journal, type Stored } from './journal.ts';

/** `Applied.by` of commands that the server itself makes. */
export const SERVER = 'server';
/** A timer of Node's takes 24 days at most; a longer wait is taken in steps. */
const LONGEST_WAIT_MS = 86_400_000;

export class Hub {
	readonly eventId: string;
	readonly journal: Journal;
	/** What of the event could not be read when it was opened. */
	readonly unreadable: readonly Unreadable[];
	#state: ShowState;
	#seq: number;
	#recent: Set<string>;
	#listeners = new Set<(message: HubMessage) => void>();
	#due: NodeJS.Timeout | undefined;
	#closed = false;
	/** Called with each command after it is stored, before all other listeners. */
	onApplied: (applied: Applied, state: ShowState) => void = () => {};
	/** The page that makes the program. Not a part of the show: it ends with the page's connection. */
	engine: string | null = null;
	report: EngineReport | null = null;
	/** What the engine hears. */
	sound: SoundReport | null = null;
	/** Kept for the page that makes the program when this one no longer does. */
	loudness: BroadcastLoudness | null = null;

	constructor(stored: Stored, journal: Journal) {
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

	/**
	 * Checks, orders, stores and announces a command of a page.
	 * @param by the page that sent it
	 * @param id the sender's name for it
	 * @param command as it came
	 * @returns `before` when it had been done already: one that is sent again counts once
	 * @throws {Refusal} when it cannot be done, or is none that a page may send
	 */
	async submit(by: string, id: string, command: unknown): Promise<'applied' | 'before'> {
		const read = v.safeParse(pageCommandSchema, command);
		if (!read.success) throw refuse('invalid', { problem: read.issues[0].message });
		if (!v.is(idSchema, id)) throw refuse('invalid', { problem: 'commandNameless' });
		return this.#apply(by, id, read.output);
	}

	/**
	 * Does a command of the server's own.
	 * @throws {Refusal} when it cannot be done
	 */
	async submitAsServer(command: Command, id: string = randomUUID()): Promise<void> {
		await this.#apply(SERVER, id, command);
	}

	async #apply(by: string, id: string, command: Command): Promise<'applied' | 'before'> {
		if (this.#recent.has(id)) return 'before';
		const at = Date.now();
		const { state } = reduce(this.#state, command, at);
		this.#remember(id);
		this.#state = state;
		const applied: Applied = { type: 'applied', seq: ++this.#seq, at, by, id, command };
		this.#waitForDue();
		await this.journal.append(applied, state);
		this.onApplied(applied, state);
		this.announce(applied);
		return 'applied';
	}

	#remember(id: string): void {
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
		const wait = Math.min(Math.max(0, first.at - Date.now()), LONGEST_WAIT_MS);
		this.#due = setTimeout(() => this.#fallDue(first), wait);
	}

	#fallDue(entry: Due): void {
		if (Date.now() < entry.at) return this.#waitForDue();
		this.submitAsServer({ type: 'fallDue', dueId: entry.id }).catch((error: unknown) => {
			if (!(error instanceof Refusal)) log.error({ event: this.eventId, err: error }, 'What was due was not done');
		});
	}

	/** Makes a page the engine unless another one is; `takeOver` also then. True when it is the engine now. */
	leaseEngine(client: string, takeOver: boolean): boolean {
		if (this.engine === null || takeOver) this.engine = client;
		return this.engine === client;
	}

	/** A page is gone. */
	release(client: string): void {
		if (this.engine !== client) return;
		this.engine = null;
		this.report = this.sound = null;
	}

	close(): Promise<void> {
		this.#closed = true;
		clearTimeout(this.#due);
		return this.journal.close();
	}
}
