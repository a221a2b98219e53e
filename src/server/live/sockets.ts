/** The two WebSockets: `/live/EVENT` for pages, `/uplink/EVENT` for the engine's packets. */
import { randomUUID } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import * as v from 'valibot';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import { ProtocolError } from '../../core/delivery/bytes.ts';
import { decodeUplink, MAX_PACKET_BYTES, type UplinkPacket } from '../../core/delivery/uplink.ts';
import { Refusal } from '../../core/refusal.ts';
import { MOST_COMMAND_BYTES } from '../../core/show/command.ts';
import { pageMessageSchema, type HubMessage } from '../../core/show/messages.ts';
import { idSchema } from '../../core/show/basics.ts';
import { isOnAir } from '../../core/show/state.ts';
import { log } from '../log.ts';
import type { EventDirectory } from './directory.ts';
import type { Room } from './room.ts';

/** What is larger than a command may be is still read, so that it can be refused in words. */
const MAX_PAGE_MESSAGE_BYTES = 4 * MOST_COMMAND_BYTES;
/** Configurations and pictures of the holding card that wait for a broadcast to be ready: three loops of two seconds. */
const MOST_INTRODUCED = 400;
/** A page that lets more than this pile up is not reading. */
const MAX_PAGE_QUEUE_BYTES = 4 * 1024 * 1024;
/** WebSocket close codes (RFC 6455, section 7.4): policy violation, and one of the private range. */
const CLOSE_POLICY = 1008;
const CLOSE_FAULT = 1011;
export const CLOSE_NO_EVENT = 4004;
/** Of a close frame's reason (RFC 6455, section 5.5.1). */
const MAX_REASON_BYTES = 123;

/** Request target of an upgrade: kind, event, query. */
const TARGET = /^\/(live|uplink)\/([a-zA-Z0-9_-]{1,64})(?:\?(.*))?$/;

export class Sockets {
	#pages = new WebSocketServer({ noServer: true, maxPayload: MAX_PAGE_MESSAGE_BYTES });
	#uplinks = new WebSocketServer({ noServer: true, maxPayload: MAX_PACKET_BYTES, perMessageDeflate: false });
	#events: Pick<EventDirectory, 'owner'>;

	constructor(events: Pick<EventDirectory, 'owner'>) {
		this.#events = events;
	}

	/** Takes an HTTP upgrade. Pages of other origins are turned away. */
	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
		// A peer may be gone before it is refused.
		socket.on('error', (error) => log.debug({ error: error.message }, 'A connection broke before it was a WebSocket'));
		const { origin, host } = request.headers;
		const [, kind, eventId, query] = TARGET.exec(request.url ?? '') ?? [];
		if (!kind || !eventId || (origin !== undefined && hostOf(origin) !== host)) {
			socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
			return;
		}
		const asked = new URLSearchParams(query);
		const server = kind === 'live' ? this.#pages : this.#uplinks;
		server.handleUpgrade(request, socket, head, (webSocket) => {
			webSocket.on('error', (error) => log.warn({ kind, eventId, error: error.message }, 'A WebSocket broke'));
			// Messages that arrive before the event is loaded wait with the socket paused.
			webSocket.pause();
			this.#events
				.owner(eventId)
				.then((room) => {
					if (kind === 'live') this.#joinPage(webSocket, room, asked);
					else this.#joinUplink(webSocket, room, asked);
				})
				.catch((error: unknown) => {
					if (error instanceof Refusal && error.reason.code === 'noEvent')
						return webSocket.close(CLOSE_NO_EVENT, 'There is no such event');
					log.error({ eventId, err: error }, 'An event could not be opened');
					webSocket.close(CLOSE_FAULT, 'The event could not be opened');
				})
				.finally(() => webSocket.resume());
		});
	}

	#joinPage(webSocket: WebSocket, room: Room, query: URLSearchParams): void {
		// A page keeps its name over a broken connection, and so stays the engine if it was.
		const asked = v.safeParse(idSchema, query.get('page'));
		const client = asked.success ? asked.output : randomUUID();
		const send = (message: HubMessage) => {
			if (webSocket.bufferedAmount > MAX_PAGE_QUEUE_BYTES) return webSocket.terminate();
			webSocket.send(JSON.stringify(message));
		};
		const { hub } = room;
		room.join(client);
		// Asked for on the way in, it is given on the way in: viewers may be waiting.
		if (query.has('engine') && hub.leaseEngine(client, false)) room.announce();
		send({ type: 'welcome', client, seq: hub.seq, state: hub.state, status: room.status(), loudness: hub.loudness });
		const leave = hub.subscribe(send);
		send({ type: 'viewers', messages: room.keeper.viewerMessages });
		webSocket.on('close', () => {
			leave();
			room.leave(client);
		});
		webSocket.on('message', (data) => {
			const json = parseJson(data);
			const message = v.safeParse(pageMessageSchema, json);
			const { byteLength: bytes } = toBytes(data);
			if (message.success && bytes <= MOST_COMMAND_BYTES) return void room.handleMessage(client, message.output, send);
			const id = commandIdOf(json);
			if (!id) return webSocket.close(CLOSE_POLICY, 'Not a message of this version of Bivvo. Reload the page.');
			const problem = message.issues?.[0].message;
			send({
				type: 'refused',
				id,
				reason: problem
					? { code: 'invalid', about: { problem } }
					: { code: 'tooLarge', about: { bytes, most: MOST_COMMAND_BYTES } },
			});
		});
	}

	#joinUplink(webSocket: WebSocket, room: Room, query: URLSearchParams): void {
		const client = query.get('client');
		const session = query.get('session') ?? '';
		if (client === null || client !== room.hub.engine)
			return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
		let attachedTo: string | null = null;
		// Told once per connection, perhaps before the broadcast is ready for them.
		const introduced: UplinkPacket[] = [];
		webSocket.on('message', (data) => {
			if (room.hub.engine !== client) return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
			const { broadcast } = room.keeper;
			try {
				const packet = decodeUplink(toBytes(data));
				const introduces = packet.kind === 'videoConfig' || packet.kind === 'audioConfig' || packet.kind === 'hold';
				// The former broadcast may still be ending, and what this connection carries is not a part of it.
				if (attachedTo === null && !isCurrent(room)) {
					if (introduces && introduced.length < MOST_INTRODUCED) introduced.push(packet);
					return;
				}
				// One that has carried a broadcast to its end carries no other.
				if (!broadcast || (attachedTo !== null && attachedTo !== broadcast.id)) return;
				if (attachedTo === null) {
					attachedTo = broadcast.id;
					broadcast.attach(session, (message) => webSocket.send(JSON.stringify(message)));
					for (const each of introduced.splice(0)) broadcast.receive(each);
				}
				broadcast.receive(packet);
			} catch (error) {
				if (!(error instanceof ProtocolError)) throw error;
				log.warn({ event: room.hub.eventId, reason: error.message }, 'The uplink sent something that is no packet');
				webSocket.close(CLOSE_POLICY, closeReason(error.message));
			}
		});
	}

	close(): void {
		for (const server of [this.#pages, this.#uplinks]) for (const client of server.clients) client.terminate();
	}
}

function toBytes(data: RawData): Uint8Array {
	if (Array.isArray(data)) return Buffer.concat(data);
	return data instanceof ArrayBuffer ? new Uint8Array(data) : data;
}

function parseJson(data: RawData): unknown {
	try {
		return JSON.parse(Buffer.from(toBytes(data)).toString('utf8'));
	} catch {
		return null;
	}
}

/** True when what is sent is the broadcast that the show is in now. */
function isCurrent({ keeper, hub: { state } }: Room): boolean {
	return keeper.broadcast !== null && isOnAir(state) && state.live.broadcast!.id === keeper.broadcast.id;
}

/** A reason cut to what a close frame can carry. */
function closeReason(text: string): string {
	return new TextDecoder('utf-8', { ignoreBOM: true })
		.decode(Buffer.from(text).subarray(0, MAX_REASON_BYTES))
		.replace(/\uFFFD+$/, '');
}

function commandIdOf(json: unknown): string | null {
	const message = json as { type?: unknown; id?: unknown } | null;
	return message?.type === 'command' && typeof message.id === 'string' ? message.id.slice(0, 64) : null;
}

function hostOf(origin: string): string | null {
	try {
		return new URL(origin).host;
	} catch {
		return null;
	}
}
