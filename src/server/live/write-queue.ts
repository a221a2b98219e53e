/**
 * Rows on their way to the database, in order. A database that is gone or hangs is waited for, a row that it cannot
 * take is set aside, and whoever adds a row waits no longer than a moment.
 */
import { log } from '../log.ts';
import { FencedOff } from '../nodes/fence.ts';

const RETRY_MS = 1000;
const ASKS_MS = 200;
const BATCH = 100;
/** However long the database takes, nobody waits longer than this for it. */
export const PATIENCE_MS = 300;
/** A row that nobody waits for is not written before this time, unless another one is said. */
const LAZY_MS = 250;

export interface WriteQueueOptions<T> {
	/** What is written, for the log. */
	name: string;
	/**
	 * Stores rows, all or none. It is called again with the same rows when it has failed, also when they were stored and
	 * only the answer was lost.
	 */
	write: (rows: T[]) => Promise<unknown>;
	/** True when a row that waits need not be written, since the next one says all of it. */
	isReplacedBy?: (waiting: T, next: T) => boolean;
	/** Rows that wait at most; beyond them the oldest are dropped. */
	most?: number;
	/** How long a row that is added lazily waits for others, milliseconds. */
	lazyMs?: number;
	/** Called with a row that the database does not take, whatever is tried. */
	onSetAside?: (row: T, error: unknown) => void;
	/** Called when all rows are written, before anybody is told so. */
	afterwards?: () => Promise<void>;
	/** Called when rows must not be written any more, since another node owns what they belong to. */
	onFencedOff?: () => void;
}

/** What has become of a row when whoever has added it waits no longer. */
export interface Added {
	/** False while it is only kept here. */
	readonly isWritten: boolean;
	/** Resolves when it is written, however long that takes. Rejects with `FencedOff` when another node writes instead. */
	readonly written: Promise<void>;
}

interface Waiting<T> {
	row: T;
	/** Called when writing it has failed, and is going to be tried again. */
	tried: () => void;
	written: () => void;
	refused: (error: FencedOff) => void;
}

export class WriteQueue<T> {
	#options: WriteQueueOptions<T>;
	#waiting: Waiting<T>[] = [];
	#inFlight = 0;
	#writing: Promise<void> | null = null;
	#lazy: NodeJS.Timeout | undefined;
	#closed = false;
	/** True when all is written but what is to be done afterwards is not. */
	#owesAfterwards = false;
	/** False while the database does not take what it is given. */
	healthy = true;
	/** Set for good once another node owns what the rows belong to. */
	#fencedOff: FencedOff | null = null;

	constructor(options: WriteQueueOptions<T>) {
		this.#options = options;
	}

	/**
	 * Adds a row. Resolves when it is written, after a moment if that takes longer, and at once while the database is
	 * gone. The row is kept and written in its turn.
	 * @throws {FencedOff} when another node writes instead
	 */
	async add(row: T): Promise<Added> {
		const { added, tried } = this.#put(row);
		this.#start();
		if (this.healthy) await this.#withPatience(Promise.race([added.written, tried]));
		return added;
	}

	/**
	 * Adds a row. Resolves when it is written, or replaced by one that is, however long that takes.
	 * @param mayKeep asked while the database is gone: true where it is enough that the row is kept
	 * @throws {FencedOff} when another node writes instead
	 */
	async addSurely(row: T, mayKeep: () => boolean): Promise<Added> {
		const { added } = this.#put(row);
		this.#start();
		await this.#withPatience(added.written);
		while (!added.isWritten && !mayKeep()) {
			let timer: NodeJS.Timeout | undefined;
			const asksAgain = new Promise((resolve) => (timer = setTimeout(resolve, ASKS_MS)));
			await Promise.race([added.written, asksAgain]).finally(() => clearTimeout(timer));
		}
		return added;
	}

	/** Adds a row that a later one may replace, or that is written with others; it is written soon. */
	addLazily(row: T): void {
		this.#put(row);
		this.#lazy ??= setTimeout(() => this.#start(), this.#options.lazyMs ?? LAZY_MS);
	}

	#put(row: T): { added: Added; tried: Promise<void> } {
		if (this.#fencedOff) throw this.#fencedOff;
		const { isReplacedBy, most } = this.#options;
		const last = this.#waiting.at(-1);
		const replaced = last && this.#waiting.length > this.#inFlight && isReplacedBy?.(last.row, row) ? last : null;
		if (replaced) this.#waiting.pop();
		if (most !== undefined && this.#waiting.length >= most && this.#waiting.length > this.#inFlight)
			this.#waiting.splice(this.#inFlight, 1)[0]?.written();
		let tried = () => {};
		const isTried = new Promise<void>((resolve) => (tried = resolve));
		let isWritten = false;
		const written = new Promise<void>((resolve, reject) =>
			this.#waiting.push({
				row,
				tried,
				written() {
					replaced?.written();
					isWritten = true;
					resolve();
				},
				refused(error) {
					replaced?.refused(error);
					reject(error);
				},
			}),
		);
		// Not everybody waits for it.
		written.catch(() => {});
		const added: Added = {
			written,
			get isWritten() {
				return isWritten;
			},
		};
		return { added, tried: isTried };
	}

	#start(): void {
		clearTimeout(this.#lazy);
		this.#lazy = undefined;
		this.#writing ??= this.#drain().finally(() => (this.#writing = null));
	}

	async #withPatience(written: Promise<void>): Promise<void> {
		let late: NodeJS.Timeout | undefined;
		const patience = new Promise<'late'>((resolve) => (late = setTimeout(() => resolve('late'), PATIENCE_MS)));
		const first = await Promise.race([written, patience]);
		clearTimeout(late);
		if (first === 'late') this.#notTaken('it does not answer in time');
	}

	#notTaken(reason: unknown): void {
		const { name } = this.#options;
		if (this.healthy) log.error({ name, err: reason }, 'The database does not take changes; they are kept');
		this.healthy = false;
	}

	async #drain(): Promise<void> {
		const { name, afterwards } = this.#options;
		while ((this.#waiting.length > 0 || this.#owesAfterwards) && !this.#closed) {
			const batch = this.#waiting.slice(0, BATCH);
			this.#inFlight = batch.length;
			try {
				await this.#store(batch.map(({ row }) => row));
				this.#waiting.splice(0, batch.length);
				this.#inFlight = 0;
				this.#owesAfterwards = this.#waiting.length === 0;
				if (this.#owesAfterwards) await afterwards?.();
				this.#owesAfterwards = false;
				if (!this.healthy) log.info({ name }, 'The database takes changes again');
				this.healthy = true;
				for (const { written } of batch) written();
			} catch (error) {
				this.#inFlight = 0;
				if (error instanceof FencedOff) return this.#endFor(error);
				this.#notTaken(error);
				for (const { tried } of batch) tried();
				await new Promise((resolve) => setTimeout(resolve, RETRY_MS).unref());
			}
		}
	}

	#endFor(error: FencedOff): void {
		this.#fencedOff = error;
		this.#closed = true;
		for (const { refused } of this.#waiting.splice(0)) refused(error);
		this.#options.onFencedOff?.();
	}

	/** Stores rows together, or one by one when one of them cannot be stored. */
	async #store(rows: T[]): Promise<void> {
		if (rows.length === 0) return;
		try {
			await this.#options.write(rows);
		} catch (error) {
			if (!isRowFault(error)) throw error;
			if (rows.length === 1) return this.#setAside(rows[0]!, error);
			for (const row of rows) await this.#store([row]);
		}
	}

	#setAside(row: T, error: unknown): void {
		log.error({ name: this.#options.name, err: error }, 'The database cannot take a row; it is set aside');
		this.#options.onSetAside?.(row, error);
	}

	/** Waits until all is written, but only a moment for a database that is gone. */
	async settle(): Promise<void> {
		if (this.#waiting.length > 0) this.#start();
		const patience = new Promise((resolve) => setTimeout(resolve, this.healthy ? 10 * RETRY_MS : RETRY_MS).unref());
		await Promise.race([this.#writing, patience]);
	}

	/**
	 * As `settle`; nothing is written after that.
	 * @param reason what those are told who wait for a row until it is written; without one nobody does
	 */
	async close(reason: FencedOff | null = null): Promise<void> {
		await this.settle();
		this.#closed = true;
		if (reason) this.#endFor(reason);
	}
}

/**
 * True for an error that is about the row and not about the database: SQLSTATE classes 21, 22 (data) and 23
 * (constraints), and packets that are too large. Such a row is not taken the next time either.
 */
export function isRowFault(error: unknown): boolean {
	const { cause = error } = error as { cause?: unknown };
	const { sqlState, code } = cause as { sqlState?: string; code?: string };
	return /^2[123]/.test(sqlState ?? '') || code === 'ER_NET_PACKET_TOO_LARGE';
}
