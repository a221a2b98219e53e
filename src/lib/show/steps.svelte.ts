/** The way back from an editing: commands that take back each of its steps. */
import type { SingleCommand } from '../../core/show/command.ts';

const KEPT = 50;

export class Steps {
	/** Newest last. */
	#inverses = $state.raw<readonly (readonly SingleCommand[])[]>([]);
	/** What a movement by hand changes, while it goes on. */
	#moving: string | null = null;

	get any(): boolean {
		return this.#inverses.length > 0;
	}

	/**
	 * Remembers how a change that was done is taken back. A movement by hand is one step, however often it is reported.
	 * @param what names what is changed
	 * @param done false while a movement goes on
	 */
	remember(inverse: readonly SingleCommand[], what: string, done: boolean): void {
		if (this.#moving !== what) this.#inverses = [...this.#inverses.slice(1 - KEPT), inverse];
		this.#moving = done ? null : what;
	}

	/** Takes out one that was taken back in another way. */
	forget(inverse: readonly SingleCommand[]): void {
		this.#inverses = this.#inverses.filter((each) => each !== inverse);
	}

	/** Hands out the newest, which is forgotten. */
	back(): readonly SingleCommand[] {
		const last = this.#inverses.at(-1) ?? [];
		this.#inverses = this.#inverses.slice(0, -1);
		this.#moving = null;
		return last;
	}
}
