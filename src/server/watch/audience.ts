/** Who watches: whoever has asked within the last seconds, by a name that their page has made up. */

const WATCHES_MS = 15_000;
/** More than this is not counted one by one: nobody fills the memory with names. */
const MOST_COUNTED = 50_000;
const NAME = /^[a-z0-9]{6,24}$/;

export class Audience {
	readonly #seen = new Map<string, number>();

	note(name: string, now: number): void {
		if (!NAME.test(name) || (this.#seen.size >= MOST_COUNTED && !this.#seen.has(name))) return;
		// Set anew, it stands last: those seen longest ago stand first.
		this.#seen.delete(name);
		this.#seen.set(name, now);
	}

	count(now: number): number {
		for (const [name, at] of this.#seen) {
			if (now - at <= WATCHES_MS) break;
			this.#seen.delete(name);
		}
		return this.#seen.size;
	}
}
