/** Private places for rehearsals: what is sent to a destination is received here instead, by RTMP on loopback. */
import { randomBytes } from 'node:crypto';
import net, { type AddressInfo } from 'node:net';
import { HlsIntake } from '../../core/delivery/hls-intake.ts';
import { HlsShelf } from '../../core/delivery/hls.ts';
import { RANDOM_BYTES } from '../../core/delivery/rtmp/handshake.ts';
import { RtmpIngestSession } from '../../core/delivery/rtmp/server.ts';
import { log } from '../log.ts';

const APP = 'rehearsal';
/** Each keeps some 40 s of what it received in memory; the oldest that nobody sends to makes room. */
const MOST_PLACES = 12;
const NAME = /^[\w-]{1,80}--[\w-]{1,80}$/;

/** What one destination gets of a rehearsal. */
export class RehearsalPlace {
	readonly shelf = new HlsShelf();
	/** The connection that sends here now. */
	socket: net.Socket | null = null;

	get isReceiving(): boolean {
		return this.socket !== null;
	}
}

export class Rehearsals {
	/** Address that publishers are given. */
	readonly url: string;
	#server: net.Server;
	#places = new Map<string, RehearsalPlace>();
	#sockets = new Set<net.Socket>();

	private constructor(server: net.Server) {
		this.#server = server;
		this.url = `rtmp://127.0.0.1:${(server.address() as AddressInfo).port}/${APP}`;
		server.on('connection', (socket) => this.#receive(socket));
	}

	/** @throws when no port can be had */
	static async open(): Promise<Rehearsals> {
		const server = net.createServer();
		await new Promise<void>((resolve, reject) => {
			server.once('error', reject);
			server.listen(0, '127.0.0.1', resolve);
		});
		server.on('error', (error) => log.error({ err: error }, 'Rehearsals cannot be received'));
		return new Rehearsals(server);
	}

	/** The stream key under which a destination of an event is rehearsed. */
	static keyOf(eventId: string, destinationId: string): string {
		return `${eventId}--${destinationId}`;
	}

	/** Null while nothing has been sent there. */
	placeOf(eventId: string, destinationId: string): RehearsalPlace | null {
		return this.#places.get(Rehearsals.keyOf(eventId, destinationId)) ?? null;
	}

	async close(): Promise<void> {
		for (const socket of this.#sockets) socket.destroy();
		await new Promise((resolve) => this.#server.close(resolve));
	}

	#receive(socket: net.Socket): void {
		let place: RehearsalPlace | null = null;
		let intake: HlsIntake | null = null;
		let hasEnded = false;
		this.#sockets.add(socket);
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(RANDOM_BYTES),
			(bytes) => void socket.write(bytes),
			({ app, key }) => {
				if (app !== APP || !NAME.test(key))
					return { code: 'NetStream.Publish.BadName', description: 'There is no such rehearsal.' };
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

	#openPlace(key: string): RehearsalPlace {
		const known = this.#places.get(key);
		if (known) return known;
		const idle = [...this.#places].find(([, { isReceiving }]) => !isReceiving);
		if (this.#places.size >= MOST_PLACES && idle) this.#places.delete(idle[0]);
		const place = new RehearsalPlace();
		this.#places.set(key, place);
		return place;
	}
}
