/** Rows that are kept in memory too: what was read of them counts only when none was changed here meanwhile. */
export class FreshReads {
	#changes = 0;
	/** The last write under way of each row. */
	readonly #last = new Map<string, Promise<unknown>>();

	/** One was changed in memory. */
	changed(): void {
		this.#changes++;
	}

	/**
	 * Writes a row, each time after the last one, so that the database ends as memory does.
	 * @throws what writing throws
	 */
	async write<T>(id: string, write: () => PromiseLike<T>): Promise<T> {
		this.#changes++;
		const writing = (this.#last.get(id) ?? Promise.resolve()).then(write);
		const settled = writing.catch(() => {});
		this.#last.set(id, settled);
		try {
			return await writing;
		} finally {
			if (this.#last.get(id) === settled) this.#last.delete(id);
			this.#changes++;
		}
	}

	/**
	 * Reads rows, and reads them again where they may be older than what was changed meanwhile.
	 * @param take keeps what was read, before anything else can change
	 * @throws what reading throws
	 */
	async read<Rows>(read: () => PromiseLike<Rows>, take: (rows: Rows) => void): Promise<void> {
		for (;;) {
			await Promise.all(this.#last.values());
			const before = this.#changes;
			const rows = await read();
			if (this.#changes === before && this.#last.size === 0) return take(rows);
		}
	}
}
