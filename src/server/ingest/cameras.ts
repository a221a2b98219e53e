/**
 * The cameras in the network of one organisation: what arrives from each, and the desks that it is handed to. What comes is
 * not decoded here.
 */
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { CameraFeed } from '../../core/ingest/camera-feed.ts';
import { encodeFeed, type FeedPacket, type Gone } from '../../core/ingest/feed.ts';
import type { IngestEvent } from '../../core/delivery/rtmp/server.ts';
import type { CameraRelay } from '../nodes/camera-relay.ts';
import type { CameraKeys } from './camera-keys.ts';
import { StandInCamera } from './stand-in-camera.ts';

/** A desk that reads slower than a camera sends gets nothing before the next key frame. */
const MOST_WAITING_BYTES = 4e6;
/** A desk answers an offer within this. */
const ANSWER_MS = 10_000;

/** A desk that shows a camera. */
export interface Line {
	send(packet: Uint8Array): void;
	/** Bytes that wait to be sent. */
	readonly waiting: number;
	/** Hands it an offer of the camera's (WHIP), under a name; another one takes the place of the one before. */
	offer(session: string, sdp: string): void;
	/** The camera has ended what it had offered. */
	end(session: string): void;
}

/** A camera that sends by RTMP. */
export interface Reception {
	/** @returns why its connection is to be ended; null when it goes on */
	receive(event: IngestEvent): Gone | null;
	/** The connection is gone. */
	close(): void;
}

interface Arriving {
	feed: CameraFeed;
	/** Ends the camera's connection. */
	drop: () => void;
}

interface Offered {
	cameraId: string;
	line: Line;
	answered: (sdp: string | null) => void;
}

/** Whether a line has to wait for a picture that stands alone; and whether a desk of this node is at its end, or another node. */
type Lines = Map<Line, { needsKey: boolean; isDesk: boolean }>;

export class Cameras {
	readonly keys: CameraKeys;
	readonly relay: CameraRelay | null;
	readonly #arriving = new Map<string, Arriving>();
	readonly #lines = new Map<string, Lines>();
	readonly #offered = new Map<string, Offered>();
	readonly #standIns = new Map<string, StandInCamera>();

	/** @param relay to other nodes; null on a server of one */
	constructor(keys: CameraKeys, relay: CameraRelay | null = null) {
		this.keys = keys;
		this.relay = relay;
		keys.onRenewed = (cameraId) => this.#dropRenewed(cameraId);
	}

	/** Takes what a camera sends by RTMP. One that connects again takes the place of its former connection. */
	begin(cameraId: string, drop: () => void): Reception {
		const before = this.#arriving.get(cameraId);
		before?.feed.end('torn');
		before?.drop();
		const feed = new CameraFeed((packet) => this.#distribute(cameraId, packet));
		const arriving = { feed, drop };
		this.#arriving.set(cameraId, arriving);
		this.#distribute(cameraId, { kind: 'begun' });
		const announced = this.relay?.announce(cameraId);
		const end = (why: Gone) => {
			announced?.();
			feed.end(why);
			if (this.#arriving.get(cameraId) === arriving) this.#arriving.delete(cameraId);
		};
		return {
			receive(event) {
				const why = feed.receive(event, performance.now());
				if (why !== null) end(why);
				return why;
			},
			close: () => end('torn'),
		};
	}

	#distribute(cameraId: string, packet: FeedPacket): void {
		const lines = this.#lines.get(cameraId);
		if (!lines) return;
		const bytes = encodeFeed(packet);
		for (const [line, state] of lines) {
			if (line.waiting > MOST_WAITING_BYTES) state.needsKey = true;
			if (packet.kind === 'video' && packet.key && line.waiting <= MOST_WAITING_BYTES) state.needsKey = false;
			const isLeftOut = state.needsKey && (packet.kind === 'video' || packet.kind === 'audio');
			if (!isLeftOut) line.send(bytes);
		}
	}

	/** Lets a desk show a camera, whichever node it sends to, from what it sends now on. @returns takes it away */
	join(cameraId: string, line: Line): () => void {
		const ends = [
			this.lend(cameraId, line, true),
			this.relay?.follow(cameraId, line),
			this.relay?.announceDesk(cameraId),
		];
		return () => ends.forEach((end) => end?.());
	}

	/** True while a desk at this node shows a camera. */
	isShown(cameraId: string): boolean {
		return this.#desksOf(cameraId).length > 0;
	}

	#desksOf(cameraId: string): Line[] {
		return [...(this.#lines.get(cameraId) ?? [])].flatMap(([line, { isDesk }]) => (isDesk ? [line] : []));
	}

	/** The same as `join`, for what the camera sends to this node. */
	lend(cameraId: string, line: Line, isDesk = false): () => void {
		const lines: Lines = this.#lines.get(cameraId) ?? new Map();
		this.#lines.set(cameraId, lines.set(line, { needsKey: false, isDesk }));
		const { feed } = this.#arriving.get(cameraId) ?? {};
		for (const packet of feed?.beginning ?? []) line.send(encodeFeed(packet));
		return () => {
			lines.delete(line);
			if (lines.size === 0 && this.#lines.get(cameraId) === lines) this.#lines.delete(cameraId);
			for (const [session, offered] of this.#offered) if (offered.line === line) this.#forget(session);
		};
	}

	/** True while a camera sends by RTMP. */
	arrives(cameraId: string): boolean {
		return this.#arriving.has(cameraId);
	}

	/**
	 * Offers a camera's pictures and sound to the desk that shows it.
	 * @returns the answer, under a name; null when there is no desk, or it does not take it
	 */
	async offer(cameraId: string, sdp: string): Promise<{ session: string; answer: string } | null> {
		const line = this.#desksOf(cameraId).at(-1);
		if (!line) return null;
		for (const [before, { cameraId: of }] of this.#offered) if (of === cameraId) this.end(cameraId, before);
		const session = randomUUID();
		const { promise, answered } = awaited();
		this.#offered.set(session, { cameraId, line, answered });
		line.offer(session, sdp);
		const timer = setTimeout(() => answered(null), ANSWER_MS);
		const answer = await promise;
		clearTimeout(timer);
		if (answer === null) this.end(cameraId, session);
		return answer === null ? null : { session, answer };
	}

	/** A desk has answered an offer; null refuses it, or says that its connection has failed. */
	answer(line: Line, session: string, sdp: string | null): void {
		const offered = this.#offered.get(session);
		if (offered?.line !== line) return;
		offered.answered(sdp);
		if (sdp === null) this.#offered.delete(session);
	}

	/** Ends what a camera had offered. @returns false when there is no such thing */
	end(cameraId: string, session: string): boolean {
		const offered = this.#offered.get(session);
		if (offered?.cameraId !== cameraId) return false;
		offered.line.end(session);
		this.#forget(session);
		return true;
	}

	#forget(session: string): void {
		this.#offered.get(session)?.answered(null);
		this.#offered.delete(session);
	}

	/** Gives a camera another key; what comes with the old one is ended. */
	async renew(cameraId: string): Promise<string> {
		const key = await this.keys.renew(cameraId);
		this.#dropRenewed(cameraId);
		return key;
	}

	#dropRenewed(cameraId: string): void {
		const arriving = this.#arriving.get(cameraId);
		arriving?.feed.end('renewed');
		arriving?.drop();
		this.#arriving.delete(cameraId);
		for (const [session, offered] of this.#offered) if (offered.cameraId === cameraId) this.end(cameraId, session);
	}

	/** Lets the stand-in camera send in a camera's place. @param port where cameras connect */
	async standIn(cameraId: string, folder: string, port: number): Promise<void> {
		const key = await this.keys.keyOf(cameraId);
		this.endStandIn(cameraId);
		this.#standIns.set(cameraId, new StandInCamera(path.join(folder, 'venue/media/tower-door.mp4'), port, key));
	}

	endStandIn(cameraId: string): void {
		this.#standIns.get(cameraId)?.stop();
		this.#standIns.delete(cameraId);
	}

	close(): void {
		for (const cameraId of [...this.#standIns.keys()]) this.endStandIn(cameraId);
		for (const { drop } of this.#arriving.values()) drop();
		for (const session of [...this.#offered.keys()]) this.#forget(session);
	}
}

function awaited(): { promise: Promise<string | null>; answered: (sdp: string | null) => void } {
	let answered!: (sdp: string | null) => void;
	const promise = new Promise<string | null>((resolve) => (answered = resolve));
	return { promise, answered };
}
