/** Which guest has which of the mixer's outputs for what they hear. */
import type { Guest } from '../../core/show/guests/guest.ts';

/** True for the seat of a guest's camera or screen. */
export function isOf({ seatId, screenSeatId }: Guest, sourceId: string): boolean {
	return sourceId === seatId || sourceId === screenSeatId;
}

export class ReturnTable {
	readonly #most: number;
	/** By output. Whoever keeps their seat keeps their output. */
	guests: readonly (Guest | null)[] = [];

	/** @param most outputs there are */
	constructor(most: number) {
		this.#most = most;
	}

	/** Gives outputs to who has a seat now; when there are too few, the last ones get none. */
	follow(guests: readonly Guest[]): void {
		const seated = guests.filter(({ isIn, seatId }) => isIn && seatId !== null);
		const places = this.guests.map((guest) => seated.find(({ id }) => id === guest?.id) ?? null);
		for (const guest of seated) {
			if (places.some((other) => other?.id === guest.id)) continue;
			const free = places.indexOf(null);
			if (free >= 0) places[free] = guest;
			else if (places.length < this.#most) places.push(guest);
		}
		while (places.length > 0 && places.at(-1) === null) places.pop();
		this.guests = places;
	}
}
