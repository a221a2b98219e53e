/**
 * How what happens at an event reaches everybody at it. One process needs no more than this; several servers
 * would put another one behind the same interface.
 */
import type { HubMessage } from '../../core/show/live.ts';

export interface Bus {
	publish(eventId: string, message: HubMessage): void;
	/** @returns a function that ends the subscription */
	subscribe(eventId: string, listener: (message: HubMessage) => void): () => void;
}

export class InProcessBus implements Bus {
	#listeners = new Map<string, Set<(message: HubMessage) => void>>();

	publish(eventId: string, message: HubMessage): void {
		for (const listener of this.#listeners.get(eventId) ?? []) listener(message);
	}

	subscribe(eventId: string, listener: (message: HubMessage) => void): () => void {
		const listeners = this.#listeners.get(eventId) ?? new Set();
		this.#listeners.set(eventId, listeners.add(listener));
		return () => listeners.delete(listener);
	}
}
