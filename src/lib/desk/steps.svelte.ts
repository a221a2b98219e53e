/** The way back from an editing: what was so before each of its steps. */
const KEPT = 50;

export class Steps<T> {
	/** Newest last. */
	#before = $state.raw<readonly T[]>([]);
	/** What a movement by hand changes, while it goes on. */
	#moving: string | null = null;

	get any(): boolean {
		return this.#before.length > 0;
	}

	/**
	 * Remembers what was so before a change that was done. A movement by hand is one step, however often it is told.
	 * @param what names what is changed
	 * @param done false while a movement goes on
	 */
	remember(before: T, what: string, done: boolean): void {
		if (this.#moving !== what) this.#before = [...this.#before.slice(1 - KEPT), before];
		this.#moving = done ? null : what;
	}

	/** The newest, which is forgotten. */
	back(): T | null {
		const last = this.#before.at(-1) ?? null;
		this.#before = this.#before.slice(0, -1);
		this.#moving = null;
		return last;
	}
}
