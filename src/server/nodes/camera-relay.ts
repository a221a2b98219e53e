/**
 * Cameras whose connection comes to another node than their desk's. What arrives is handed on by a WebSocket between the two
 * nodes, one for each desk that shows it; an offer by WHIP is passed on to the node that has the desk.
 */
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import * as v from 'valibot';
import { WebSocket, WebSocketServer } from 'ws';
import type { Cameras, Line } from '../ingest/cameras.ts';
import { log } from '../log.ts';
import type { Bus } from './bus.ts';
import { PASSED_HEADER, signPassed, wasPassed } from './passed-on.ts';
import type { Registry } from './registry.ts';

/** What is announced holds for so long, and is announced again so often. */
const HOLDS_MS = 10_000;
const AGAIN_MS = 3000;
/** A line that was torn is looked for again. */
const RETRY_MS = 500;
/** A desk that reads slower holds its line up, and what it misses is left out where the camera is. */
const MOST_WAITING_BYTES = 1e6;
const PATH = /^\/node\/camera\/([a-z0-9_-]*)~([a-zA-Z0-9_-]{1,64})$/;

const announcedSchema = v.object({ cameraId: v.string() });

interface Parts {
	bus: Bus;
	registry: Registry;
	key: Buffer;
}

/** Of one organisation. */
export class CameraRelay {
	readonly #parts: Parts;
	readonly #organisation: string;
	/** Told when a camera has begun to send to another node. */
	readonly #waiting = new Set<(cameraId: string) => void>();

	/** @param organisation '' for the first */
	constructor(parts: Parts, organisation: string) {
		this.#parts = parts;
		this.#organisation = organisation;
		parts.bus.subscribe(this.#channel, (message) => {
			const read = v.safeParse(announcedSchema, message);
			if (read.success) for (const told of this.#waiting) told(read.output.cameraId);
		});
	}

	get #channel(): string {
		return `camera ${this.#organisation}`;
	}

	#keep(what: string): () => void {
		const { bus, registry } = this.#parts;
		const say = () =>
			void bus
				.put(`${what} ${this.#organisation}`, registry.self.id, HOLDS_MS)
				.catch((error: unknown) => log.debug({ err: error }, 'Where a camera is, other nodes do not know'));
		say();
		const timer = setInterval(say, AGAIN_MS);
		return () => clearInterval(timer);
	}

	async #nodeOf(what: string): Promise<string | null> {
		const { bus, registry } = this.#parts;
		const node = await bus.get(`${what} ${this.#organisation}`).catch(() => null);
		return node === null || node === registry.self.id ? null : (registry.find(node)?.url ?? null);
	}

	/** Says that a camera sends to this node. @returns ends it */
	announce(cameraId: string): () => void {
		const end = this.#keep(`sends ${cameraId}`);
		this.#parts.bus.publish(this.#channel, { cameraId });
		return end;
	}

	/** Says that a desk at this node shows a camera. @returns ends it */
	announceDesk(cameraId: string): () => void {
		return this.#keep(`shows ${cameraId}`);
	}

	/** Address of the node with the desk that shows a camera; null for none, and for this one. */
	deskOf(cameraId: string): Promise<string | null> {
		return this.#nodeOf(`shows ${cameraId}`);
	}

	/** Hands a line what a camera sends to another node, whichever that is. @returns ends it */
	follow(cameraId: string, line: Line): () => void {
		let socket: WebSocket | null = null;
		let isOver = false;
		let timer: NodeJS.Timeout | undefined;
		const look = async () => {
			clearTimeout(timer);
			const node = await this.#nodeOf(`sends ${cameraId}`);
			if (isOver || socket || node === null) return;
			socket = this.#open(node, cameraId, line);
			socket.once('close', () => {
				socket = null;
				if (!isOver) timer = setTimeout(() => void look(), RETRY_MS);
			});
		};
		const told = (begun: string) => void (begun === cameraId && look());
		this.#waiting.add(told);
		void look();
		return () => {
			isOver = true;
			clearTimeout(timer);
			this.#waiting.delete(told);
			socket?.terminate();
		};
	}

	#open(node: string, cameraId: string, line: Line): WebSocket {
		const { key } = this.#parts;
		const url = new URL(`/node/camera/${this.#organisation}~${cameraId}`, node);
		const asked = { method: 'GET', url: url.pathname, headers: { host: url.host } };
		const header = signPassed(asked, { ...NOBODY, hops: 1 }, key);
		const socket = new WebSocket(url.href.replace(/^http/, 'ws'), {
			headers: { [PASSED_HEADER]: header },
			perMessageDeflate: false,
		});
		socket.on('error', (error) => log.info({ camera: cameraId, problem: error.message }, 'A camera’s line broke'));
		socket.on('message', (bytes: Buffer) => {
			line.send(bytes);
			if (line.waiting <= MOST_WAITING_BYTES || socket.isPaused) return;
			socket.pause();
			const timer = setInterval(() => {
				if (line.waiting > MOST_WAITING_BYTES && socket.readyState === socket.OPEN) return;
				clearInterval(timer);
				socket.resume();
			}, 20);
		});
		return socket;
	}
}

/** A node asks for itself. */
const NOBODY = { remoteAddress: '', localAddress: '', localPort: 0, isTls: false };

/** Where other nodes ask for what cameras send to this one. */
export class CameraRelayDoor {
	readonly #server = new WebSocketServer({ noServer: true, maxPayload: 16, perMessageDeflate: false });

	/** @returns the organisation and the camera that another node asks for; null for any other request */
	static asks(request: IncomingMessage): { organisation: string; cameraId: string } | null {
		const [, organisation, cameraId] = PATH.exec(request.url ?? '') ?? [];
		return cameraId === undefined || !wasPassed(request) ? null : { organisation: organisation!, cameraId };
	}

	open(cameras: Cameras, cameraId: string, request: IncomingMessage, socket: Duplex, head: Buffer): void {
		this.#server.handleUpgrade(request, socket, head, (to) => {
			to.on('error', () => {});
			const line: Line = {
				send: (packet) => to.send(packet),
				get waiting() {
					return to.bufferedAmount;
				},
				// Offers go to the node with the desk by themselves.
				offer: () => {},
				end: () => {},
			};
			to.on('close', cameras.lend(cameraId, line));
		});
	}

	close(): void {
		for (const socket of this.#server.clients) socket.terminate();
	}
}
