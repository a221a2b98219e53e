/** What a socket may send: so much in a second, and for some seconds at once. */
export interface Allowance {
	messages: number;
	bytes: number;
	/** Seconds' worth of both that may come at once. */
	burstS: number;
}

export class Budget {
	readonly #allowance: Allowance;
	#messages: number;
	#bytes: number;
	#at: number | null = null;

	constructor(allowance: Allowance) {
		this.#allowance = allowance;
		this.#messages = allowance.messages * allowance.burstS;
		this.#bytes = allowance.bytes * allowance.burstS;
	}

	/**
	 * Takes a message off what is left.
	 * @param now milliseconds; a clock that goes back gives nothing
	 * @returns false when there was not enough
	 */
	spend(bytes: number, now: number): boolean {
		const { messages, bytes: most, burstS } = this.#allowance;
		const passedS = Math.max(0, now - (this.#at ?? now)) / 1000;
		this.#at = now;
		this.#messages = Math.min(messages * burstS, this.#messages + messages * passedS) - 1;
		this.#bytes = Math.min(most * burstS, this.#bytes + most * passedS) - bytes;
		return this.#messages >= 0 && this.#bytes >= 0;
	}
}
