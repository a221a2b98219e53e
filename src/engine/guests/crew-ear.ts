/** A phone of the crew that hears what the desk says: a connection that only brings a sound. */
import type { IceServer, Signal } from '../../core/guests/messages.ts';
import { Peer } from './peer.ts';

/** One that has not come about by then is begun anew. */
const PATIENCE_MS = 8000;

export interface CrewEarEvents {
	send(desk: string, connection: string, signal: Signal): void;
	/** What is heard; null while nothing is. */
	hears(sound: MediaStream | null): void;
	onProblem(problem: unknown): void;
}

export class CrewEar {
	readonly #iceServers: readonly IceServer[];
	readonly #events: CrewEarEvents;
	#desk: string | null = null;
	#peer: Peer | null = null;
	#connection = '';
	#patience: ReturnType<typeof setTimeout> | undefined;

	constructor(iceServers: readonly IceServer[], events: CrewEarEvents) {
		this.#iceServers = iceServers;
		this.#events = events;
	}

	/** The page that makes the program; null while none does. Another one is connected to anew. */
	meet(desk: string | null): void {
		if (desk === null || desk === this.#desk) return;
		this.#desk = desk;
		this.#begin();
	}

	receive(connection: string, signal: Signal): void {
		if (connection === this.#connection) this.#peer?.receive(signal);
	}

	#begin(): void {
		this.#end();
		const desk = this.#desk!;
		const attempt = crypto.randomUUID();
		this.#connection = attempt;
		const peer = new Peer({
			iceServers: this.#iceServers,
			polite: true,
			send: (signal) => this.#peer === peer && this.#events.send(desk, attempt, signal),
			onProblem: (problem) => this.#events.onProblem(problem),
		});
		this.#peer = peer;
		const { connection } = peer;
		connection.addTransceiver('audio', { direction: 'recvonly' });
		connection.addEventListener('connectionstatechange', () => {
			if (this.#peer !== peer) return;
			const { connectionState: is } = connection;
			const track = connection.getReceivers()[0]?.track;
			if (is === 'connected' && track) this.#events.hears(new MediaStream([track]));
			if (is === 'connected') clearTimeout(this.#patience);
			if (is === 'failed') this.#begin();
		});
		this.#patience = setTimeout(() => this.#begin(), PATIENCE_MS);
	}

	#end(): void {
		clearTimeout(this.#patience);
		this.#peer?.close();
		this.#peer = null;
		this.#events.hears(null);
	}

	close(): void {
		this.#desk = null;
		this.#end();
	}
}
