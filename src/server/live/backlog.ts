/** Rows on their way to the database, in order; waits out a database that is gone. */

const RETRY_MS = 1000;
const BATCH = 100;

export class Backlog<T> {
	#write: (rows: T[]) => Promise<unknown>;
	#most: number;
	#waiting: T[] = [];
	#writing: Promise<void> | null = null;
	#closed = false;

	/**
	 * @param write stores some rows
	 * @param most rows that wait; beyond them the oldest are given up
	 */
	constructor(write: (rows: T[]) => Promise<unknown>, most = 5000) {
		this.#write = write;
		this.#most = most;
	}

	add(row: T): void {
		this.#waiting.push(row);
		if (this.#waiting.length > this.#most) this.#waiting.shift();
		this.#writing ??= this.#drain().finally(() => (this.#writing = null));
	}

	async #drain(): Promise<void> {
		while (this.#waiting.length > 0 && !this.#closed) {
			const batch = this.#waiting.slice(0, BATCH);
			try {
				await this.#write(batch);
				this.#waiting.splice(0, batch.length);
			} catch {
				// The journal says that the database is gone.
				await new Promise((resolve) => setTimeout(resolve, RETRY_MS).unref());
			}
		}
	}

	async close(): Promise<void> {
		await Promise.race([this.#writing, new Promise((resolve) => setTimeout(resolve, RETRY_MS))]);
		this.#closed = true;
	}
}
