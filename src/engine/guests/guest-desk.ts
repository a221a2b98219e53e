/** The desk's side of all guests: a connection with each, what comes from them, and what they get back. */
import { clientOfEar, MOST_EARS } from '../../core/guests/crew-ear.ts';
import type { AboutGuest, IceServer, Signal } from '../../core/guests/messages.ts';
import type { Guest } from '../../core/show/guests/guest.ts';
import type { SeatMedia } from '../sources/open-source.ts';
import { NO_MEDIA, TRANSCEIVERS, type GuestMedia } from './media.ts';
import { Peer } from './peer.ts';

export interface GuestDeskParts {
	send(guestId: string, connection: string, signal: Signal): void;
	/** The track that a guest hears. */
	returnFor(guestId: string): MediaStreamTrack;
	/** A phone of the crew has gone. */
	earGone(id: string): void;
	/** What comes from guests, or who they are, has changed. */
	changed(): void;
	onProblem(problem: unknown): void;
}

interface Known {
	/** The attempt; what belongs to an earlier one is left out. */
	connection: string;
	peer: Peer;
	media: GuestMedia;
	/** Keeps sound flowing: browsers decode what comes from afar only while something plays it. */
	player: HTMLAudioElement;
}

export class GuestDesk {
	readonly #parts: GuestDeskParts;
	readonly #known = new Map<string, Known>();
	#guests: readonly Guest[] = [];
	#about: ReadonlyMap<string, AboutGuest> = new Map();
	iceServers: readonly IceServer[] = [];

	constructor(parts: GuestDeskParts) {
		this.#parts = parts;
	}

	/** Lets go of who is there no more. */
	follow(guests: readonly Guest[]): void {
		this.#guests = guests;
		for (const id of [...this.#known.keys()]) if (!this.#isThere(id)) this.#drop(id);
	}

	/** True for a guest, and for a phone of the crew. */
	#isThere(id: string): boolean {
		return clientOfEar(id) !== null || this.#guests.some((guest) => guest.id === id);
	}

	/** What guests say of themselves: a camera that is off brings no picture. */
	followAbout(about: ReadonlyMap<string, AboutGuest>): void {
		this.#about = about;
		this.#parts.changed();
	}

	/** A step of making a connection. A new attempt of a guest's takes the place of the one before. */
	receive(guestId: string, connection: string, signal: Signal): void {
		const known = this.#known.get(guestId);
		if (known?.connection === connection) return known.peer.receive(signal);
		if (signal.is !== 'description' || signal.type !== 'offer') return;
		const ears = [...this.#known.keys()].filter((id) => clientOfEar(id) !== null && id !== guestId);
		if (!this.#isThere(guestId) || (clientOfEar(guestId) !== null && ears.length >= MOST_EARS)) return;
		this.#drop(guestId);
		this.#begin(guestId, connection).receive(signal);
	}

	#begin(guestId: string, connection: string): Peer {
		const isNow = () => this.#known.get(guestId)?.peer === peer;
		const peer = new Peer({
			iceServers: this.iceServers,
			polite: false,
			send: (signal) => isNow() && this.#parts.send(guestId, connection, signal),
			onOffer: (made) => this.#answer(guestId, made),
			onProblem: (problem) => this.#parts.onProblem(problem),
		});
		const player = new Audio();
		player.muted = true;
		this.#known.set(guestId, { connection, peer, media: NO_MEDIA, player });
		peer.connection.addEventListener('track', () => isNow() && this.#take(guestId));
		peer.connection.addEventListener('connectionstatechange', () => {
			if (isNow() && peer.connection.connectionState === 'failed') this.#drop(guestId);
			else if (isNow()) this.#take(guestId);
		});
		return peer;
	}

	/** What the guest hears goes back beside their voice. */
	#answer(guestId: string, connection: RTCPeerConnection): void {
		const [voice] = connection.getTransceivers();
		if (!voice || voice.sender.track) return;
		voice.direction = 'sendrecv';
		voice.sender
			.replaceTrack(this.#parts.returnFor(guestId))
			.catch((problem: unknown) => this.#parts.onProblem(problem));
	}

	#take(guestId: string): void {
		const known = this.#known.get(guestId)!;
		const { connection } = known.peer;
		const isUp = connection.connectionState === 'connected' || connection.connectionState === 'disconnected';
		const transceivers = connection.getTransceivers();
		const trackAt = (i: number) => {
			const { receiver, currentDirection } = transceivers[i] ?? {};
			return isUp && currentDirection?.includes('recv') ? (receiver?.track ?? null) : null;
		};
		const media = Object.fromEntries(TRANSCEIVERS.map((name, i) => [name, trackAt(i)])) as GuestMedia;
		const isSame = TRANSCEIVERS.every((name) => media[name] === known.media[name]);
		if (isSame) return;
		if (media.voice && media.voice !== known.media.voice) {
			known.player.srcObject = new MediaStream([media.voice]);
			known.player.play().catch((problem: unknown) => this.#parts.onProblem(problem));
		}
		known.media = media;
		this.#parts.changed();
	}

	/** What comes from a guest now. */
	mediaOf(guestId: string): GuestMedia {
		const media = this.#known.get(guestId)?.media ?? NO_MEDIA;
		const { cameraOff, sharing } = this.#about.get(guestId) ?? { cameraOff: false, sharing: false };
		return { ...media, camera: cameraOff ? null : media.camera, screen: sharing ? media.screen : null };
	}

	/** What comes for each seat that somebody has: their picture as far as viewers may see it. */
	get seats(): Map<string, SeatMedia> {
		const seats = new Map<string, SeatMedia>();
		for (const { id, isIn, seatId, screenSeatId, seen } of this.#guests) {
			if (!isIn) continue;
			const { voice, camera, screen } = this.mediaOf(id);
			if (seatId !== null) seats.set(seatId, { picture: seen ? camera : null, sound: voice });
			if (screenSeatId !== null) seats.set(screenSeatId, { picture: screen, sound: null });
		}
		return seats;
	}

	#drop(guestId: string): void {
		const known = this.#known.get(guestId);
		if (!known) return;
		this.#known.delete(guestId);
		known.peer.close();
		known.player.srcObject = null;
		if (clientOfEar(guestId) !== null) this.#parts.earGone(guestId);
		this.#parts.changed();
	}

	close(): void {
		for (const id of [...this.#known.keys()]) this.#drop(id);
	}
}
