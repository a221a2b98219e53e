/** Lets sound wait for the picture that comes next, so that both go over the line, and on to hosts, at once. */

/** Sounds that wait at most: 64 ms at 48 kHz. Where pictures stop, sound goes on four at a time. */
const MOST_WAITING = 3;

/**
 * A receiver is woken for each picture, and not for each sound as well: 30 times a second instead of 77. Sound goes up to one
 * picture later for that, which viewers do not notice: a host gets both by their times, and pictures take longer to be made.
 */
export class Together<P> {
	readonly #send: (packet: P) => void;
	#waiting: P[] = [];

	/** @param send sends a packet; those of one moment are sent without a pause between them */
	constructor(send: (packet: P) => void) {
		this.#send = send;
	}

	/** Sends a packet of sound with the next picture. */
	sound(packet: P): void {
		this.#waiting.push(packet);
		if (this.#waiting.length > MOST_WAITING) this.flush();
	}

	/** Sends a picture, and before it what has waited for it. */
	picture(packet: P): void {
		this.flush();
		this.#send(packet);
	}

	/** Sends what waits, since no picture comes. */
	flush(): void {
		const waited = this.#waiting;
		this.#waiting = [];
		for (const packet of waited) this.#send(packet);
	}

	/** Forgets what waits: the line that it was for is gone. */
	clear(): void {
		this.#waiting = [];
	}
}
