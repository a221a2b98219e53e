/** One view of one event: comes once from the page that makes the program, goes to all who watch it. */
import { decodeView, Reading } from '../../core/watch/packet.ts';

/** Somebody who watches. */
export interface Watcher {
	send(packet: Uint8Array): void;
	/** Bytes that have not left for them yet. */
	readonly waiting: number;
}

export class Watching {
	readonly #watchers = new Map<Watcher, Reading>();
	readonly #changed: () => void;
	#needKey: (() => void) | null = null;

	/** @param changed called when the first one has come, or the last one gone */
	constructor(changed: () => void) {
		this.#changed = changed;
	}

	/** True while somebody watches: only then the picture is made. */
	get isWatched(): boolean {
		return this.#watchers.size > 0;
	}

	add(watcher: Watcher): void {
		if (this.#watchers.has(watcher)) return;
		this.#watchers.set(watcher, new Reading());
		this.#needKey?.();
		if (this.#watchers.size === 1) this.#changed();
	}

	remove(watcher: Watcher): void {
		if (this.#watchers.delete(watcher) && this.#watchers.size === 0) this.#changed();
	}

	/**
	 * The page that makes the program is there.
	 * @param needKey asks it for a picture that stands alone
	 * @returns a function that ends it
	 */
	attach(needKey: () => void): () => void {
		this.#needKey = needKey;
		if (this.isWatched) needKey();
		return () => {
			if (this.#needKey === needKey) this.#needKey = null;
		};
	}

	/** @returns false for what is no picture */
	distribute(packet: Uint8Array<ArrayBuffer>): boolean {
		const read = decodeView(packet);
		if (!read) return false;
		for (const [watcher, reading] of this.#watchers) if (reading.takes(read, watcher.waiting)) watcher.send(packet);
		return true;
	}
}
