import type { WebSocket } from 'ws';

/** A socket is asked this often whether it is there, and is cut off when it has not answered by the next time. */
const EVERY_MS = 4000;

/** Finds peers that have vanished without a word, within twice the time of a beat. */
export class HeartBeat {
	readonly #sockets: () => WebSocket[];
	readonly #answered = new WeakSet<WebSocket>();
	readonly #timer: NodeJS.Timeout;

	/** @param sockets those that are open */
	constructor(sockets: () => WebSocket[], everyMs = EVERY_MS) {
		this.#sockets = sockets;
		this.#timer = setInterval(() => this.#beat(), everyMs);
	}

	follow(socket: WebSocket): void {
		this.#answered.add(socket);
		// Whatever it sends shows that it is there; a busy machine may take its time for the answer.
		for (const sign of ['pong', 'message'] as const) socket.on(sign, () => this.#answered.add(socket));
	}

	#beat(): void {
		for (const socket of this.#sockets()) {
			if (!this.#answered.has(socket)) socket.terminate();
			this.#answered.delete(socket);
			if (socket.readyState === socket.OPEN) socket.ping();
		}
	}

	close(): void {
		clearInterval(this.#timer);
	}
}
