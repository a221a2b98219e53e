/**
 * Where cameras of the network connect: RTMP, and RTMPS on the same port. A camera says who it is by its key; what it sends
 * goes to its organisation.
 */
import { randomBytes } from 'node:crypto';
import net from 'node:net';
import tls from 'node:tls';
import { RANDOM_BYTES } from '../../core/delivery/rtmp/handshake.ts';
import { RtmpIngestSession } from '../../core/delivery/rtmp/server.ts';
import { log } from '../log.ts';
import type { Cameras, Reception } from './cameras.ts';

/** First byte of a TLS record that begins a handshake (RFC 8446, section 5.1). RTMP begins with its version, 3. */
const TLS_HANDSHAKE = 22;
/** A connection says whose it is within this, and a camera sends something at least so often. */
const PATIENCE_MS = 10_000;
const PING_EVERY_MS = 5000;
const MOST_CONNECTIONS = 100;
/** Connections of one address that have not said whose they are. */
const MOST_STRANGERS = 8;
/** Whoever has no key is told so after this: keys are not to be tried out. */
const REFUSE_AFTER_MS = 1000;

export interface Certificate {
	cert: string | Buffer;
	key: string | Buffer;
}

/** Finds the camera that a key belongs to. */
export type FindCamera = (key: string) => { cameras: Cameras; cameraId: string } | null;

export class CameraListener {
	readonly #server: net.Server;
	readonly #secure: tls.Server | null;
	readonly #find: FindCamera;
	readonly #open = new Set<net.Socket>();
	/** How many connections of an address have not said whose they are. */
	readonly #strangers = new Map<string, number>();
	/** Why nobody can connect; null when cameras can. */
	problem: NodeJS.ErrnoException | null = null;

	private constructor(find: FindCamera, certificate: Certificate | null) {
		this.#find = find;
		this.#secure =
			certificate && tls.createServer({ ...certificate, ALPNProtocols: [] }, (socket) => this.#take(socket));
		this.#secure?.on('tlsClientError', (error, socket) => {
			log.debug({ problem: error.message }, 'A camera could not connect by TLS');
			socket.destroy();
		});
		this.#server = net.createServer((socket) => this.#greet(socket));
		this.#server.maxConnections = MOST_CONNECTIONS;
	}

	/**
	 * @param certificate for RTMPS; null offers none
	 * @returns a listener; with a problem where the port cannot be had: all else goes on without cameras of the network
	 */
	static async open(
		place: { host: string; port: number },
		find: FindCamera,
		certificate: Certificate | null,
	): Promise<CameraListener> {
		const listener = new CameraListener(find, certificate);
		await new Promise<void>((resolve) => {
			listener.#server.once('error', (error) => {
				listener.problem = error;
				log.warn({ port: place.port, problem: error.message }, 'Cameras of the network cannot connect');
				resolve();
			});
			listener.#server.listen(place.port, place.host, resolve);
		});
		listener.#server.on('error', (error) => log.warn({ err: error }, 'A camera could not connect'));
		return listener;
	}

	/** Null where nobody can connect. */
	get port(): number | null {
		const address = this.#server.address();
		return address !== null && typeof address === 'object' ? address.port : null;
	}

	get isSecure(): boolean {
		return this.#secure !== null;
	}

	/** The first byte says whether it speaks TLS. */
	#greet(socket: net.Socket): void {
		const address = socket.remoteAddress ?? '';
		const strangers = this.#strangers.get(address) ?? 0;
		if (strangers >= MOST_STRANGERS) return void socket.destroy();
		this.#strangers.set(address, strangers + 1);
		this.#open.add(socket);
		socket.setNoDelay(true);
		socket.setTimeout(PATIENCE_MS, () => socket.destroy());
		socket.on('error', () => socket.destroy());
		let isKnown = false;
		const settle = () => {
			if (isKnown) return;
			isKnown = true;
			const left = (this.#strangers.get(address) ?? 1) - 1;
			if (left > 0) this.#strangers.set(address, left);
			else this.#strangers.delete(address);
		};
		socket.once('close', () => {
			settle();
			this.#open.delete(socket);
		});
		this.#settled.set(socket, settle);
		socket.once('data', (first: Buffer) => {
			socket.pause();
			socket.unshift(first);
			if (first[0] === TLS_HANDSHAKE) {
				if (!this.#secure) return void socket.destroy();
				this.#secure.emit('connection', socket);
			} else this.#take(socket);
		});
	}

	/** To be called when a connection has shown a key. */
	readonly #settled = new WeakMap<net.Socket, () => void>();

	#take(socket: net.Socket | tls.TLSSocket): void {
		let reception: Reception | null = null;
		const deadline = setTimeout(() => reception ?? socket.destroy(), PATIENCE_MS);
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(RANDOM_BYTES),
			(bytes) => void socket.write(bytes),
			({ key }) => {
				// Some encoders put what is theirs behind the key.
				const found = this.#find(key.split('?', 1)[0]!);
				if (!found) {
					setTimeout(() => socket.destroySoon(), REFUSE_AFTER_MS);
					return { code: 'NetStream.Publish.Denied', description: 'This key belongs to no camera. Type it again.' };
				}
				this.#settled.get(socket)?.();
				reception = found.cameras.begin(found.cameraId, () => socket.destroy());
				return null;
			},
			(event) => {
				const why = reception?.receive(event) ?? null;
				if (why === null) return;
				if (why !== 'left') log.info({ why }, 'What a camera sends cannot be used; its connection is ended');
				socket.destroySoon();
			},
		);
		const pings = setInterval(() => !session.over && reception && session.ping(Date.now() >>> 0), PING_EVERY_MS);
		socket.on('data', (bytes: Buffer) => {
			if (session.over) return;
			try {
				session.receive(bytes);
			} catch (error) {
				log.debug({ problem: (error as Error).message }, 'A camera sent something that is no RTMP');
				socket.destroy();
			}
		});
		socket.on('error', () => socket.destroy());
		socket.on('end', () => socket.end());
		socket.once('close', () => {
			clearTimeout(deadline);
			clearInterval(pings);
			reception?.close();
		});
		socket.resume();
	}

	async close(): Promise<void> {
		for (const socket of this.#open) socket.destroy();
		if (this.#server.listening) await new Promise((resolve) => this.#server.close(resolve));
	}
}
