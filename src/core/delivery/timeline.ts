/**
 * One unbroken line of time for a broadcast, whatever engine feeds it. Each engine counts from its own start;
 * when another one takes over, its first key frame is put where the wall clock says, never before what was sent.
 */
export class Timeline {
	#offsetUs: number | null = null;
	#anchorUs = 0;
	#lastUs = -1;

	/** An engine has attached whose clock is not that of the one before. */
	attach(): void {
		this.#offsetUs = null;
	}

	/** False between an attach and its first key frame: packets of that time have no place on the line. */
	get anchored(): boolean {
		return this.#offsetUs !== null;
	}

	/**
	 * Puts the first key frame of an engine on the line.
	 * @param timeUs on the engine's clock
	 * @param elapsedUs since the broadcast's first packet, by the wall clock; 0 for that first one
	 * @param frameUs length of a frame: the least step from what was sent before
	 */
	anchor(timeUs: number, elapsedUs: number, frameUs: number): void {
		this.#anchorUs = this.#lastUs < 0 ? 0 : Math.max(this.#lastUs + frameUs, elapsedUs);
		this.#offsetUs = this.#anchorUs - timeUs;
	}

	/** Something else has sent up to this time on the line. */
	advance(timeUs: number): void {
		this.#lastUs = Math.max(this.#lastUs, timeUs);
	}

	/** The newest time on the line that something was sent with, or −1. */
	get lastUs(): number {
		return this.#lastUs;
	}

	/** Where a time of the engine lies on the line, also before the anchor; null while there is none. */
	onLine(timeUs: number): number | null {
		return this.#offsetUs === null ? null : timeUs + this.#offsetUs;
	}

	/** A time on the line for a packet to be sent, or null for what was before the anchor. */
	place(timeUs: number): number | null {
		const placed = this.onLine(timeUs);
		// Sound of just before the key frame would step back behind what the engine before has sent.
		if (placed === null || placed < this.#anchorUs) return null;
		this.#lastUs = Math.max(this.#lastUs, placed);
		return placed;
	}
}
