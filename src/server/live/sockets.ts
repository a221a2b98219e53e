/** The WebSockets: `/live/EVENT` for pages, `/uplink/EVENT` for the engine's packets, `/guest/EVENT/GUEST` for
 * a guest, `/view/EVENT` for a view that the engine makes, `/watch/EVENT` for pages that watch one, `/camera/EVENT` for what
 * a camera in the network sends. */
import { createHash, randomUUID } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import * as v from 'valibot';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import { SOCKET_RULES } from '../../core/access/policy.ts';
import { roleOf, type AnyRole } from '../../core/access/roles.ts';
import { toldTo } from '../../core/access/told.ts';
import { ProtocolError } from '../../core/delivery/bytes.ts';
import { decodeUplink, MAX_PACKET_BYTES, type UplinkPacket } from '../../core/delivery/uplink.ts';
import { Refusal } from '../../core/refusal.ts';
import { MOST_COMMAND_BYTES } from '../../core/show/command.ts';
import { pageMessageSchema, type HubMessage } from '../../core/show/messages.ts';
import { ALIVE } from '../../core/show/reconnect.ts';
import { isOnAir } from '../../core/show/state.ts';
import { MOST_VIEW_BYTES } from '../../core/watch/packet.ts';
import { isView, VIEW_NAMES, type View } from '../../core/watch/views.ts';
import { MOST_OFFER_BYTES } from '../../core/ingest/whip.ts';
import { MOST_GUEST_BYTES, readGuestMessage, type IceServer, type ToGuest } from '../../core/guests/messages.ts';
import { joinCamera } from '../ingest/camera-line.ts';
import type { Cameras } from '../ingest/cameras.ts';
import { refuseUpgrade, type Access, type Admitted } from '../access/access.ts';
import { log } from '../log.ts';
import { Budget } from './budget.ts';
import { Elsewhere, type EventDirectory } from './directory.ts';
import { HeartBeat } from './heart-beat.ts';
import type { Room } from './room.ts';
import type { UplinkTickets } from './uplink-tickets.ts';
import type { Watcher } from './watching.ts';

/** What is larger than a command may be is still read, so that it can be refused in words. */
const MAX_PAGE_MESSAGE_BYTES = 4 * MOST_COMMAND_BYTES;
/** Configurations and pictures of the holding card that wait for a broadcast to be ready: three loops of two seconds. */
const MOST_INTRODUCED = 400;
const MOST_INTRODUCED_BYTES = 32e6;
/** A page that lets more than this pile up is not reading. */
const MAX_PAGE_QUEUE_BYTES = 4 * 1024 * 1024;
/** What a page may send: far more than a hand that moves faders does. */
const PAGE_BUDGET = { messages: 200, bytes: 2e6, burstS: 5 };
/** What a guest may send: addresses to try come in a flock. */
const GUEST_BUDGET = { messages: 30, bytes: 200_000, burstS: 10 };
/** A view: 15 times a second. */
const VIEW_BUDGET = { messages: 40, bytes: 400_000, burstS: 10 };
/** What the engine may send: several renditions, cameras and sounds recorded apart. */
const UPLINK_BUDGET = { messages: 3000, bytes: 20e6, burstS: 10 };
const ALIVE_MS = 1000;
/** Pages of one session, and of one event. */
const MOST_OF_A_SESSION = 40;
/** Nobody else has a way in there. */
const MOST_AT_THE_MACHINE = 400;
const MOST_OF_AN_EVENT = 300;
/** WebSocket close codes (RFC 6455, section 7.4): policy violation, and one of the private range. */
const CLOSE_POLICY = 1008;
const CLOSE_FAULT = 1011;
const CLOSE_GONE = 4005;
export const CLOSE_NO_EVENT = 4004;
/** What somebody may do here has changed, or they are signed out: the page asks again who it is. */
export const CLOSE_CHANGED = 4001;
/** Service restart, RFC 6455's registry: whoever hears it comes again. */
const CLOSE_MOVED = 1012;
/** Of a close frame's reason (RFC 6455, section 5.5.1). */
const MAX_REASON_BYTES = 123;

/** Path of an upgrade: kind and event, and which guest. */
const TARGET =
	/^\/(?:(live|uplink|view|watch|camera)\/([a-zA-Z0-9_-]{1,64})|(guest)\/([a-zA-Z0-9_-]{1,64})\/([a-zA-Z0-9-]{1,64}))$/;

/** Somebody who may be at an event. */
interface Visitor {
	admitted: Admitted;
	role: AnyRole;
}

export class Sockets {
	#pages = new WebSocketServer({ noServer: true, maxPayload: MAX_PAGE_MESSAGE_BYTES });
	#guests = new WebSocketServer({ noServer: true, maxPayload: MOST_GUEST_BYTES });
	#views = new WebSocketServer({ noServer: true, maxPayload: MOST_VIEW_BYTES, perMessageDeflate: false });
	/** They send nothing. */
	#watchers = new WebSocketServer({ noServer: true, maxPayload: 16, perMessageDeflate: false });
	#uplinks = new WebSocketServer({ noServer: true, maxPayload: MAX_PACKET_BYTES, perMessageDeflate: false });
	#cameraLines = new WebSocketServer({ noServer: true, maxPayload: 2 * MOST_OFFER_BYTES, perMessageDeflate: false });
	#events: Pick<EventDirectory, 'owner'>;
	#access: Pick<Access, 'admitUpgrade'>;
	#cameras: Cameras;
	readonly #tickets: UplinkTickets;
	#iceServers: (who: string) => IceServer[];
	#heartBeat = new HeartBeat(() => this.#servers.flatMap(({ clients }) => [...clients]));
	get #servers(): WebSocketServer[] {
		return [this.#pages, this.#guests, this.#views, this.#watchers, this.#uplinks, this.#cameraLines];
	}

	/** Pages that hear nothing else would not know that they are cut off. */
	readonly #livingTimer = setInterval(() => {
		for (const server of this.#servers)
			for (const client of server === this.#pages ? [] : server.clients)
				if (client.readyState === client.OPEN) client.send(ALIVE);
	}, ALIVE_MS);

	/** By session; those without one sit at the machine. */
	#open = new Map<string, Set<WebSocket>>();
	#ofEvent = new Map<string, number>();
	/** The one uplink of each lease. */
	#uplinkOf = new Map<string, WebSocket>();

	/** @param iceServers relays that may be used, for whom */
	constructor(
		events: Pick<EventDirectory, 'owner'>,
		access: Pick<Access, 'admitUpgrade' | 'onChange'>,
		cameras: Cameras,
		tickets: UplinkTickets,
		iceServers: (who: string) => IceServer[],
	) {
		this.#events = events;
		this.#access = access;
		this.#cameras = cameras;
		this.#tickets = tickets;
		this.#iceServers = iceServers;
		access.onChange((sessionId) => {
			for (const socket of this.#open.get(sessionId) ?? []) socket.close(CLOSE_CHANGED, 'Who you are here has changed');
		});
	}

	/** Takes an HTTP upgrade, if it comes through the door. */
	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
		// A peer may be gone before it is refused.
		socket.on('error', (error) => log.debug({ error: error.message }, 'A connection broke before it was a WebSocket'));
		this.#admit(request, socket, head).catch((error: unknown) => {
			log.error({ err: error }, 'An upgrade failed');
			socket.destroy();
		});
	}

	async #admit(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
		const admitted = this.#tickets.take(request) ?? (await this.#access.admitUpgrade(request));
		if ('status' in admitted) return refuseUpgrade(socket, admitted.status, admitted.message);
		const [, page, pagesEvent, guest, guestsEvent, guestId] = TARGET.exec(admitted.path) ?? [];
		const [kind, eventId] = [page ?? guest, pagesEvent ?? guestsEvent];
		if (!kind || !eventId) return refuseUpgrade(socket, 404, 'There is nothing to connect to.');
		const role = admitted.actor && roleOf(admitted.actor, eventId);
		if (!admitted.actor) return refuseUpgrade(socket, 401, 'Sign in first.');
		const rule: readonly AnyRole[] = SOCKET_RULES[kind as keyof typeof SOCKET_RULES];
		const isSomebodyElse = guestId !== undefined && admitted.actor.id !== guestId;
		if (!role || !rule.includes(role) || isSomebodyElse)
			return refuseUpgrade(socket, 403, 'This event is not for you.');
		const sessionId = admitted.session?.id ?? 'machine';
		const isFull =
			(this.#open.get(sessionId)?.size ?? 0) >= (admitted.session ? MOST_OF_A_SESSION : MOST_AT_THE_MACHINE) ||
			(this.#ofEvent.get(eventId) ?? 0) >= MOST_OF_AN_EVENT;
		if (isFull) return refuseUpgrade(socket, 429, 'Too many pages are open. Close some of them.');
		const asked = new URLSearchParams((request.url ?? '').split('?')[1]);
		const server = {
			...{ live: this.#pages, uplink: this.#uplinks, guest: this.#guests },
			...{ view: this.#views, watch: this.#watchers, camera: this.#cameraLines },
		}[kind as keyof typeof SOCKET_RULES];
		server.handleUpgrade(request, socket, head, (webSocket) => {
			this.#watch(webSocket, sessionId, eventId);
			webSocket.on('error', (error) => log.info({ kind, eventId, error: error.message }, 'A WebSocket broke'));
			// Messages that arrive before the event is loaded wait with the socket paused.
			webSocket.pause();
			this.#events
				.owner(eventId)
				.then((room) => {
					if (webSocket.readyState !== webSocket.OPEN) return;
					webSocket.once(
						'close',
						room.onEnd(() => webSocket.close(CLOSE_MOVED, 'The event is elsewhere now')),
					);
					if (kind === 'live') this.#joinPage(webSocket, room, asked, { admitted, role });
					else if (kind === 'view') this.#joinView(webSocket, room, asked);
					else if (kind === 'watch') this.#joinWatcher(webSocket, room, asked);
					else if (kind === 'camera') this.#joinCamera(webSocket, room, asked);
					else if (kind === 'guest') this.#joinGuest(webSocket, room, admitted.actor!.id);
					else this.#joinUplink(webSocket, room, asked);
				})
				.catch((error: unknown) => {
					if (error instanceof Refusal && error.reason.code === 'noEvent')
						return webSocket.close(CLOSE_NO_EVENT, 'There is no such event');
					if (error instanceof Elsewhere) return webSocket.close(CLOSE_MOVED, 'The event is elsewhere now');
					log.error({ eventId, err: error }, 'An event could not be opened');
					webSocket.close(CLOSE_FAULT, 'The event could not be opened');
				})
				.finally(() => webSocket.resume());
		});
	}

	#watch(webSocket: WebSocket, sessionId: string, eventId: string): void {
		const open = this.#open.get(sessionId) ?? new Set();
		this.#open.set(sessionId, open.add(webSocket));
		this.#ofEvent.set(eventId, (this.#ofEvent.get(eventId) ?? 0) + 1);
		this.#heartBeat.follow(webSocket);
		webSocket.once('close', () => {
			open.delete(webSocket);
			if (open.size === 0) this.#open.delete(sessionId);
			const left = this.#ofEvent.get(eventId)! - 1;
			if (left > 0) this.#ofEvent.set(eventId, left);
			else this.#ofEvent.delete(eventId);
		});
	}

	#joinPage(webSocket: WebSocket, room: Room, query: URLSearchParams, { admitted, role }: Visitor): void {
		const client = pageIdOf(admitted, query.get('page') ?? '');
		const send = (message: HubMessage) => {
			const told = toldTo(role, message);
			if (!told) return;
			if (webSocket.bufferedAmount > MAX_PAGE_QUEUE_BYTES) return webSocket.terminate();
			webSocket.send(JSON.stringify(told));
		};
		const { hub } = room;
		const { address, agent } = admitted;
		const page = room.join({ client, role, actor: admitted.actor!, address, agent, send });
		// Asked for on the way in, it is given on the way in: viewers may be waiting.
		if (query.has('engine')) room.offerEngine(page);
		const { seq, state, loudness } = hub;
		send({ type: 'welcome', client, role, seq, state, status: room.status(), lease: hub.leaseOf(client), loudness });
		const leave = hub.subscribe(send);
		send({ type: 'viewers', messages: room.keeper.viewerMessages });
		if (room.guests.list.length > 0) send({ type: 'guests', guests: room.guests.list });
		webSocket.on('close', () => {
			leave();
			room.leave(page);
		});
		const budget = new Budget(PAGE_BUDGET);
		webSocket.on('message', (data) => {
			const { byteLength: bytes } = toBytes(data);
			if (!budget.spend(bytes, Date.now())) return webSocket.close(CLOSE_POLICY, 'This page sends too much');
			const json = parseJson(data);
			const message = v.safeParse(pageMessageSchema, json);
			if (message.success && bytes <= MOST_COMMAND_BYTES) return void room.handleMessage(page, message.output);
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

	#joinGuest(webSocket: WebSocket, room: Room, id: string): void {
		const send = (message: ToGuest) => {
			if (webSocket.bufferedAmount > MAX_PAGE_QUEUE_BYTES) return webSocket.terminate();
			webSocket.send(JSON.stringify(message));
		};
		const watcher = watcherOn(webSocket);
		const watch = (view: View | null) => {
			for (const name of VIEW_NAMES)
				if (name === view) room.views[name].add(watcher);
				else room.views[name].remove(watcher);
		};
		const connection = { id, send, watch, close: () => webSocket.close(1000) };
		const budget = new Budget(GUEST_BUDGET);
		room.guests.join(connection);
		webSocket.on('close', () => {
			watch(null);
			room.guests.leave(connection);
		});
		webSocket.on('message', (data) => {
			const bytes = toBytes(data);
			const message = readGuestMessage(Buffer.from(bytes).toString('utf8'));
			if (!budget.spend(bytes.byteLength, Date.now()) || !message)
				return webSocket.close(CLOSE_POLICY, 'Not a message of this version of Bivvo. Reload the page.');
			room.guests.handle(connection, message);
		});
	}

	#joinWatcher(webSocket: WebSocket, room: Room, query: URLSearchParams): void {
		const view = query.get('view');
		if (!isView(view)) return webSocket.close(CLOSE_POLICY, 'There is no such view');
		const watcher = watcherOn(webSocket);
		room.views[view].add(watcher);
		webSocket.on('close', () => room.views[view].remove(watcher));
	}

	/** The page that makes the program brings a view; it is asked for a picture that stands alone by a message. */
	#joinView(webSocket: WebSocket, room: Room, query: URLSearchParams): void {
		const lease = query.get('lease') ?? '';
		const view = query.get('view');
		if (!isView(view)) return webSocket.close(CLOSE_POLICY, 'There is no such view');
		if (!room.hub.holdsLease(lease)) return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
		const detach = room.views[view].attach(() => webSocket.send('key'));
		webSocket.on('close', detach);
		const budget = new Budget(VIEW_BUDGET);
		webSocket.on('message', (data) => {
			const bytes = new Uint8Array(toBytes(data));
			const isTheirs = room.hub.holdsLease(lease) && budget.spend(bytes.byteLength, Date.now());
			if (!isTheirs || !room.views[view].distribute(bytes))
				webSocket.close(CLOSE_POLICY, 'This is no picture to be watched');
		});
	}

	/** The page that makes the program gets what a camera of its event sends. */
	#joinCamera(webSocket: WebSocket, { hub }: Room, query: URLSearchParams): void {
		const lease = query.get('lease') ?? '';
		const cameraId = query.get('camera') ?? '';
		if (!hub.holdsLease(lease)) return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
		const isOfEvent = hub.state.setup.sources.some(
			(source) => source.kind === 'network' && source.cameraId === cameraId,
		);
		// One that was just added comes again when the hub knows of it.
		if (!isOfEvent) return webSocket.close(CLOSE_GONE, 'There is no such camera at this event');
		const wrong = () => webSocket.close(CLOSE_POLICY, 'This is no answer to a camera');
		joinCamera(
			webSocket,
			this.#cameras,
			cameraId,
			() => this.#iceServers(`camera-${cameraId}`),
			() => hub.holdsLease(lease),
			wrong,
		);
	}

	#joinUplink(webSocket: WebSocket, room: Room, query: URLSearchParams): void {
		const { hub } = room;
		const lease = query.get('lease') ?? '';
		const session = query.get('session') ?? '';
		if (!hub.holdsLease(lease)) return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
		// A page whose connection broke comes again before that is noticed.
		this.#uplinkOf.get(lease)?.terminate();
		this.#uplinkOf.set(lease, webSocket);
		webSocket.once('close', () => {
			if (this.#uplinkOf.get(lease) === webSocket) this.#uplinkOf.delete(lease);
		});
		const budget = new Budget(UPLINK_BUDGET);
		let attachedTo: string | null = null;
		// Told once per connection, perhaps before the broadcast is ready for them.
		const introduced: UplinkPacket[] = [];
		let introducedBytes = 0;
		webSocket.on('message', (data) => {
			if (!hub.holdsLease(lease)) return webSocket.close(CLOSE_POLICY, 'Another page makes the program');
			const bytes = toBytes(data);
			if (!budget.spend(bytes.byteLength, Date.now()))
				return webSocket.close(CLOSE_POLICY, 'The uplink sends too much');
			const { broadcast } = room.keeper;
			try {
				const packet = decodeUplink(bytes);
				const introduces = packet.kind === 'videoConfig' || packet.kind === 'audioConfig' || packet.kind === 'hold';
				// The former broadcast may still be ending, and what this connection carries is not a part of it.
				if (attachedTo === null && !isCurrent(room)) {
					const hasRoom = introduced.length < MOST_INTRODUCED && introducedBytes < MOST_INTRODUCED_BYTES;
					if (!introduces || !hasRoom) return;
					introducedBytes += bytes.byteLength;
					introduced.push(packet);
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
				const isTheirs = error instanceof ProtocolError;
				if (isTheirs)
					log.warn({ event: hub.eventId, reason: error.message }, 'The uplink sent something that is no packet');
				else log.error({ event: hub.eventId, err: error }, 'A packet of the uplink failed');
				webSocket.close(
					isTheirs ? CLOSE_POLICY : CLOSE_FAULT,
					isTheirs ? closeReason(error.message) : 'A fault of the server',
				);
			}
		});
	}

	close(): void {
		clearInterval(this.#livingTimer);
		this.#heartBeat.close();
		for (const server of this.#servers) for (const client of server.clients) client.terminate();
	}
}

/**
 * A page's name at its event. It is made of what only this page and this server know, so that a page keeps it over a
 * broken connection, and stays the engine if it was; and nobody else can have it.
 */
function pageIdOf({ session }: Admitted, secret: string): string {
	const known = `${session?.id ?? 'machine'} ${secret === '' ? randomUUID() : secret.slice(0, 100)}`;
	return createHash('sha256').update(known).digest('base64url').slice(0, 22);
}

function watcherOn(webSocket: WebSocket): Watcher {
	return {
		send: (packet) => webSocket.send(packet),
		get waiting() {
			return webSocket.bufferedAmount;
		},
	};
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
