/**
 * Pick-up: a fader without a motor stands elsewhere than what it moves when somebody else has moved that. It takes hold when it
 * comes there, so that nothing jumps.
 */

/** So near, as a part of its way, a fader has come: two steps of seven bits. */
const NEAR = 2 / 127;

export class PickUp {
	/** Where the hand left the fader; null before it was touched. */
	#hand: number | null = null;
	#holds = false;

	/**
	 * The hand moves the fader.
	 * @param to where it is now, 0 to 1
	 * @param target where what it moves is now, 0 to 1
	 * @returns where what it moves is to be; null while it has not come there
	 */
	move(to: number, target: number): number | null {
		const from = this.#hand;
		this.#hand = to;
		// Once it has taken hold, what it moves is where the hand left it; anything else, somebody else has done.
		if (this.#holds && from !== null && Math.abs(from - target) > NEAR) this.#holds = false;
		const isThere = Math.abs(to - target) <= NEAR;
		const hasPassed = from !== null && (from - target) * (to - target) <= 0;
		if (isThere || hasPassed) this.#holds = true;
		return this.#holds ? to : null;
	}

	/** Which way the fader has to go to take hold; null when it has, or was not touched yet. */
	wayTo(target: number): 'up' | 'down' | null {
		if (this.#hand === null || this.#holds) return null;
		return this.#hand < target ? 'up' : 'down';
	}
}
