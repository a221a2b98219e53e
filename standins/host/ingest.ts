/** Takes streams by RTMP, as a host does: checks who comes, measures what arrives, shelves it as HLS. */
import { createHash, randomBytes } from 'node:crypto';
import { createWriteStream, type WriteStream } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { flvFileHeader, flvFileTag } from '../../src/core/delivery/flv.ts';
import { HlsIntake } from '../../src/core/delivery/hls-intake.ts';
import { HlsShelf } from '../../src/core/delivery/hls.ts';
import { RANDOM_BYTES } from '../../src/core/delivery/rtmp/handshake.ts';
import { Challenger } from '../../src/core/delivery/rtmp/challenge.ts';
import { MessageType } from '../../src/core/delivery/rtmp/messages.ts';
import { RtmpIngestSession, type IngestEvent, type Refusal } from '../../src/core/delivery/rtmp/server.ts';
import { Audience, Messages, type Planned } from './account.ts';
import { admit, capBroken, type Place } from './places.ts';

const RATE_WINDOW_MS = 5000;
/** A short peak is forgiven; a rate above the cap for a whole window is not. */
const RATE_TOLERANCE = 1.2;
const PING_EVERY_MS = 5000;

/** What the console page shows of one place. */
export interface PlaceState {
	app: string;
	name: string;
	state: 'waiting' | 'receiving' | 'ended' | 'refused';
	reason: string;
	rateKbps: number;
	width: number;
	height: number;
	/** Milliseconds since 1970; 0 when none came yet. */
	lastKeyFrameAt: number;
	pictures: number;
	sounds: number;
	/** Time stamp of the newest sound: where the stream has got to, also where pictures were left out. */
	soundMs: number;
	/** How often a time stamp stepped back: never, if all is well. */
	backSteps: number;
	public: boolean;
	/** What its viewers are told, where somebody has planned a broadcast. */
	title: string;
	description: string;
	expectedDelayS: number;
}

export class PlaceDesk {
	readonly place: Place;
	readonly shelf = new HlsShelf();
	readonly audience = new Audience();
	readonly messages = new Messages();
	/** The broadcast that was planned here with the account. */
	planned: Planned | null = null;
	readonly state: PlaceState;
	/** The connection that publishes here now. */
	current: net.Socket | null = null;

	constructor(place: Place) {
		this.place = place;
		this.state = {
			app: place.app,
			name: place.name,
			state: 'waiting',
			reason: '',
			rateKbps: 0,
			width: 0,
			height: 0,
			lastKeyFrameAt: 0,
			pictures: 0,
			sounds: 0,
			soundMs: 0,
			backSteps: 0,
			public: !place.needsPublicStep,
			title: '',
			description: '',
			expectedDelayS: 6,
		};
	}
}

/**
 * @param keepFolder when given, each stream is also kept there as an FLV file with the time stamps it came with
 */
export function openIngest(desks: PlaceDesk[], keepFolder: string | null): net.Server {
	const places = desks.map(({ place }) => place);
	const planned = (app: string) => desks.find(({ place }) => place.app === app)?.planned?.key ?? null;
	const logins = {
		loginOf: (app: string) => places.find((place) => place.app === app)?.login ?? null,
		challenger: new Challenger(md5, () => randomBytes(9).toString('hex')),
	};
	return net.createServer((socket) => {
		let received: Reception | null = null;
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(RANDOM_BYTES),
			(bytes) => void socket.write(bytes),
			(request) => {
				const found = admit(places, request, planned);
				const app = 'app' in found ? found.app : request.app;
				const desk = desks.find(({ place }) => place.app === app);
				if ('code' in found) {
					if (desk && !desk.current) Object.assign(desk.state, { state: 'refused', reason: found.description });
					setImmediate(() => socket.end());
					return found;
				}
				// A publisher that comes back before its old connection is noticed as dead takes its place over.
				desk!.current?.destroy();
				desk!.current = socket;
				received = new Reception(desk!, keepFolder, (refusal) => {
					session.refuse(refusal);
					socket.end();
				});
				return null;
			},
			(event) => {
				received?.take(event);
				if (event.kind === 'unpublished') socket.end();
			},
			logins,
		);
		const pings = setInterval(() => !session.over && received && session.ping(Date.now() >>> 0), PING_EVERY_MS);
		socket.on('data', (bytes) => {
			try {
				session.receive(bytes);
				received?.count(bytes.length);
				if (session.over) socket.end();
			} catch {
				socket.destroy();
			}
		});
		socket.on('error', () => socket.destroy());
		socket.on('close', () => {
			clearInterval(pings);
			received?.close(socket);
		});
	});
}

const md5 = (text: string) => createHash('md5').update(text).digest('base64');

/** One stream as it comes in at its place. */
class Reception {
	#desk: PlaceDesk;
	#refuse: (refusal: Refusal) => void;
	#keep: WriteStream | null;
	#intake: HlsIntake;
	#window = { bytes: 0, since: Date.now() };
	#last = { video: -1, audio: -1 };

	constructor(desk: PlaceDesk, keepFolder: string | null, refuse: (refusal: Refusal) => void) {
		this.#desk = desk;
		this.#refuse = refuse;
		const file = keepFolder && path.join(keepFolder, `${desk.place.app}-${Date.now()}.flv`);
		this.#keep = file ? createWriteStream(file) : null;
		this.#keep?.write(flvFileHeader());
		this.#intake = new HlsIntake(desk.shelf, (problem) =>
			refuse({ code: 'NetStream.Publish.Rejected', description: `The stream is damaged (${problem}).` }),
		);
		const { place, state } = desk;
		// Whoever comes back after a loss does not have to be made public again.
		const isPublic = !place.needsPublicStep || (state.public && state.state !== 'ended');
		Object.assign(state, { state: 'receiving', reason: '', soundMs: 0, public: isPublic });
	}

	/** Counts bytes and holds the rate against the place's cap. */
	count(bytes: number): void {
		const now = Date.now();
		this.#window.bytes += bytes;
		const elapsed = now - this.#window.since;
		if (elapsed < RATE_WINDOW_MS) return;
		const { state, place } = this.#desk;
		state.rateKbps = Math.round((this.#window.bytes * 8) / elapsed);
		this.#window = { bytes: 0, since: now };
		if (state.rateKbps > place.maxRateKbps * RATE_TOLERANCE) this.#check(state.rateKbps);
	}

	#check(rateKbps: number): void {
		const { place, state } = this.#desk;
		const broken = capBroken(place, state.height, rateKbps);
		if (!broken) return;
		Object.assign(state, { state: 'refused', reason: broken.description });
		this.#refuse(broken);
	}

	take(event: IngestEvent): void {
		const { state, shelf } = this.#desk;
		if (event.kind === 'video' || event.kind === 'audio') {
			const type = event.kind === 'video' ? MessageType.video : MessageType.audio;
			this.#keep?.write(flvFileTag(type, event.timestampMs, event.body));
			if (event.timestampMs < this.#last[event.kind]) state.backSteps++;
			this.#last[event.kind] = event.timestampMs;
		}
		const came = this.#intake.add(event);
		if (event.kind === 'metadata') {
			Object.assign(state, this.#intake.size);
			this.#check(0);
		}
		if (event.kind === 'unpublished' && state.state === 'receiving') state.state = 'ended';
		if (came === 'key') state.lastKeyFrameAt = Date.now();
		if (came === 'sound') {
			state.sounds++;
			state.soundMs = event.kind === 'audio' ? event.timestampMs : state.soundMs;
		} else if (came) {
			state.pictures++;
			state.expectedDelayS = shelf.expectedDelayS;
		}
	}

	close(socket: net.Socket): void {
		const { state } = this.#desk;
		this.#keep?.end();
		void this.#intake.end(state.state === 'ended');
		// Somebody else has its place already.
		if (this.#desk.current !== socket) return;
		this.#desk.current = null;
		if (state.state === 'receiving') state.state = 'waiting';
		state.rateKbps = 0;
	}
}
