/**
 * Places where this server receives what it sends itself, by RTMP on loopback, and puts it on shelves as HLS: rehearsals, and
 * watch pages.
 */
import { randomBytes } from 'node:crypto';
import net, { type AddressInfo } from 'node:net';
import { HlsIntake } from '../../core/delivery/hls-intake.ts';
import { HlsShelf } from '../../core/delivery/hls.ts';
import { RANDOM_BYTES } from '../../core/delivery/rtmp/handshake.ts';
import { RtmpIngestSession } from '../../core/delivery/rtmp/server.ts';
import { log } from '../log.ts';

/** Each keeps some 40 s of what it received in memory; the oldest that nobody sends to makes room. */
const MOST_PLACES = 12;
const NAME = /^[\w-]{1,80}--[\w-]{1,80}$/;

/** What is received under one key. */
export class HlsPlace {
	shelf = newShelf();
	/** The connection that sends here now. */
	socket: net.Socket | null = null;

	get isReceiving(): boolean {
		return this.socket !== null;
	}
}

/** Names of its pieces are used once, whatever stood there before: a web cache keeps them. */
function newShelf(): HlsShelf {
	return new HlsShelf({ prefix: `${randomBytes(4).toString('hex')}-`, wallClock: () => Date.now() });
}

export class HlsPlaces {
	/** Address that publishers are given; nobody else knows the end of it. */
	readonly url: string;
	readonly #app = randomBytes(12).toString('hex');
	#server: net.Server;
	#places = new Map<string, HlsPlace>();
	#sockets = new Set<net.Socket>();

	private constructor(server: net.Server) {
		this.#server = server;
		this.url = `rtmp://127.0.0.1:${(server.address() as AddressInfo).port}/${this.#app}`;
		server.on('connection', (socket) => this.#receive(socket));
	}

	/** @throws when no port can be had */
	static async open(): Promise<HlsPlaces> {
		const server = net.createServer();
		await new Promise<void>((resolve, reject) => {
			server.once('error', reject);
			server.listen(0, '127.0.0.1', resolve);
		});
		server.on('error', (error) => log.error({ err: error }, 'What this server sends to itself cannot be received'));
		return new HlsPlaces(server);
	}

	/** The stream key of a destination of an event. */
	static keyOf(eventId: string, destinationId: string): string {
		return `${eventId}--${destinationId}`;
	}

	/** Null while nothing has been sent there. */
	placeOf(eventId: string, destinationId: string): HlsPlace | null {
		return this.#places.get(HlsPlaces.keyOf(eventId, destinationId)) ?? null;
	}

	async close(): Promise<void> {
		for (const socket of this.#sockets) socket.destroy();
		await new Promise((resolve) => this.#server.close(resolve));
	}

	#receive(socket: net.Socket): void {
		let place: HlsPlace | null = null;
		let intake: HlsIntake | null = null;
		let hasEnded = false;
		this.#sockets.add(socket);
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(RANDOM_BYTES),
			(bytes) => void socket.write(bytes),
			({ app, key }) => {
				if (app !== this.#app || !NAME.test(key))
					return { code: 'NetStream.Publish.BadName', description: 'There is no such place.' };
				place = this.#openPlace(key);
				// A publisher that comes back before its old connection is noticed as dead takes its place over.
				place.socket?.destroy();
				place.socket = socket;
				intake = new HlsIntake(place.shelf, (problem) => {
					session.refuse({ code: 'NetStream.Publish.Rejected', description: `The stream is damaged (${problem}).` });
					socket.end();
				});
				return null;
			},
			(event) => {
				intake?.add(event);
				if (event.kind !== 'unpublished') return;
				hasEnded = true;
				socket.end();
			},
		);
		socket.on('data', (bytes) => {
			try {
				session.receive(bytes);
				if (session.over) socket.end();
			} catch {
				socket.destroy();
			}
		});
		socket.on('error', () => socket.destroy());
		socket.on('close', () => {
			this.#sockets.delete(socket);
			void intake?.end(hasEnded);
			if (place?.socket === socket) place.socket = null;
		});
	}

	#openPlace(key: string): HlsPlace {
		const known = this.#places.get(key);
		// What was ended in good order is over: whoever comes now sees nothing of it.
		if (known?.shelf.ended) known.shelf = newShelf();
		if (known) return known;
		const idle = [...this.#places].find(([, { isReceiving }]) => !isReceiving);
		if (this.#places.size >= MOST_PLACES && idle) this.#places.delete(idle[0]);
		const place = new HlsPlace();
		this.#places.set(key, place);
		return place;
	}
}
