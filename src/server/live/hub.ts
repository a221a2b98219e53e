/**
 * The hub of one event: puts commands in order, stores them, and tells everybody. Every page runs the same
 * reducer on what it says, so the state itself is sent once only, as the welcome.
 */
import type { Command } from '../../core/show/command.ts';
import type { Applied, BroadcastLoudness, EngineReport, SoundReport } from '../../core/show/live.ts';
import { reduce } from '../../core/show/reduce.ts';
import type { ShowState } from '../../core/show/state.ts';
import type { Bus } from './bus.ts';
import type { Journal, Stored } from './journal.ts';

/** Commands whose ids are remembered, so that one sent again counts once. */
const REMEMBERED = 1000;

export class Hub {
	readonly eventId: string;
	readonly journal: Journal;
	#bus: Bus;
	#state: ShowState;
	#seq: number;
	#recent: Set<string>;
	/** Told of each command after it is stored, before anybody else. */
	onApplied: (applied: Applied, state: ShowState) => void = () => {};
	/** The page that makes the program. Not a part of the show: it ends with the page's connection. */
	engine: string | null = null;
	report: EngineReport | null = null;
	/** What the engine hears. */
	sound: SoundReport | null = null;
	/** Kept for the page that makes the program when this one no longer does. */
	loudness: BroadcastLoudness | null = null;

	constructor(eventId: string, stored: Stored, journal: Journal, bus: Bus) {
		this.eventId = eventId;
		this.journal = journal;
		this.#bus = bus;
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
	 * Orders, stores and announces a command.
	 * @param by the page that sent it
	 * @param id the sender's name for it
	 * @returns null when it was done (or had been done before), else why it cannot be
	 */
	async submit(by: string, id: string, command: Command): Promise<string | null> {
		if (this.#recent.has(id)) return null;
		const at = Date.now();
		const outcome = reduce(this.#state, command, at);
		if ('refused' in outcome) return outcome.refused;
		this.#remember(id);
		this.#state = outcome.state;
		const applied: Applied = { type: 'applied', seq: ++this.#seq, at, by, id, command };
		const { state } = outcome;
		await this.journal.append(applied, state);
		this.onApplied(applied, state);
		this.#bus.publish(this.eventId, applied);
		return null;
	}

	#remember(id: string): void {
		this.#recent.add(id);
		if (this.#recent.size > REMEMBERED) this.#recent.delete(this.#recent.values().next().value!);
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
}
