/**
 * What guests hear: from a seat the mix without themselves; in the green room the program, lower, and the others there;
 * and whoever of the crew speaks to them, which viewers never hear.
 */
import { clientOfEar } from '../../core/guests/crew-ear.ts';
import type { Guest } from '../../core/show/guests/guest.ts';

/** Of the program in the green room: it can be talked over. */
const PROGRAM_LOWER = 10 ** (-10 / 20);

/** To whom the desk speaks: to one guest, to all guests who are in, to phones of the crew, or to nobody. */
export type TalkTo = { guestId: string } | 'all' | 'crew' | null;

export interface ReturnsParts {
	audio: AudioContext;
	/** The mixer: its first output is the program. */
	mix: AudioNode;
	/** The mixer's output that has all but a guest; null for one without a seat. */
	returnOf(guestId: string): number | null;
	/** A guest's voice as it comes; null while none does. */
	voiceOf(guestId: string): MediaStreamTrack | null;
}

interface Wire {
	node: AudioNode;
	output: number;
}

interface Return {
	out: MediaStreamAudioDestinationNode;
	/** What is connected to it, by name. */
	wires: Map<string, Wire>;
}

export class Returns {
	readonly #parts: ReturnsParts;
	readonly #programLower: GainNode;
	readonly #returns = new Map<string, Return>();
	/** Voices of those in the green room, by guest. */
	readonly #voices = new Map<string, { track: MediaStreamTrack; node: MediaStreamAudioSourceNode }>();
	/** All voices of the green room, for the crew. */
	readonly greenRoom: GainNode;
	/** What the crew says. */
	readonly talk: GainNode;
	#guests: readonly Guest[] = [];
	#talkTo: TalkTo = null;

	constructor(parts: ReturnsParts) {
		this.#parts = parts;
		const { audio, mix } = parts;
		this.#programLower = new GainNode(audio, { gain: PROGRAM_LOWER });
		mix.connect(this.#programLower, 0);
		this.greenRoom = new GainNode(audio);
		this.talk = new GainNode(audio);
	}

	/** The track that a guest hears, also before they are let in: then it is silent. */
	trackFor(guestId: string): MediaStreamTrack {
		return this.#returnOf(guestId).out.stream.getAudioTracks()[0]!;
	}

	#returnOf(guestId: string): Return {
		const known = this.#returns.get(guestId);
		if (known) return known;
		const out = this.#parts.audio.createMediaStreamDestination();
		const made: Return = { out, wires: new Map() };
		this.#returns.set(guestId, made);
		return made;
	}

	/** Who is where, and who speaks: brings all in line. */
	follow(guests: readonly Guest[], talkTo: TalkTo = this.#talkTo): void {
		this.#guests = guests;
		this.#talkTo = talkTo;
		this.#followVoices();
		for (const guest of guests) this.#wire(this.#returnOf(guest.id), this.#wantedFor(guest));
		for (const [id, known] of this.#returns) {
			if (guests.some((guest) => guest.id === id)) continue;
			if (clientOfEar(id) !== null) {
				this.#wire(known, this.#wantedByCrew());
				continue;
			}
			this.#wire(known, new Map());
			this.#returns.delete(id);
		}
	}

	/** Only those in the green room are heard there; from a seat a voice comes by the mix. */
	#followVoices(): void {
		const there = new Map<string, MediaStreamTrack>();
		for (const { id, isIn, seatId } of this.#guests) {
			const track = isIn && seatId === null ? this.#parts.voiceOf(id) : null;
			if (track) there.set(id, track);
		}
		for (const [id, { track, node }] of this.#voices) {
			if (there.get(id) === track) continue;
			node.disconnect();
			this.#voices.delete(id);
			for (const { wires } of this.#returns.values()) wires.delete(`voice ${id}`);
		}
		for (const [id, track] of there) {
			if (this.#voices.has(id)) continue;
			const node = this.#parts.audio.createMediaStreamSource(new MediaStream([track]));
			node.connect(this.greenRoom);
			this.#voices.set(id, { track, node });
		}
	}

	#wantedFor({ id, isIn, seatId }: Guest): Map<string, Wire> {
		const wanted = new Map<string, Wire>();
		if (!isIn) return wanted;
		const output = this.#parts.returnOf(id);
		if (seatId !== null && output !== null) wanted.set(`mix ${output}`, { node: this.#parts.mix, output });
		else {
			wanted.set('program', { node: this.#programLower, output: 0 });
			for (const [other, { node }] of this.#voices) if (other !== id) wanted.set(`voice ${other}`, { node, output: 0 });
		}
		const to = this.#talkTo;
		const isSpokenTo = to === 'all' || (typeof to === 'object' && to?.guestId === id);
		if (isSpokenTo) wanted.set('talk', { node: this.talk, output: 0 });
		return wanted;
	}

	/** Nothing but what the desk says to them. */
	#wantedByCrew(): Map<string, Wire> {
		return new Map(this.#talkTo === 'crew' ? [['talk', { node: this.talk, output: 0 }]] : []);
	}

	/** A phone of the crew hears no more. */
	forget(id: string): void {
		const known = this.#returns.get(id);
		if (!known) return;
		this.#wire(known, new Map());
		this.#returns.delete(id);
	}

	#wire({ out, wires }: Return, wanted: ReadonlyMap<string, Wire>): void {
		for (const [name, { node, output }] of wires) {
			if (wanted.has(name)) continue;
			node.disconnect(out, output);
			wires.delete(name);
		}
		for (const [name, wire] of wanted) {
			if (wires.has(name)) continue;
			wire.node.connect(out, wire.output);
			wires.set(name, wire);
		}
	}

	close(): void {
		this.follow([], null);
		this.#programLower.disconnect();
		this.greenRoom.disconnect();
	}
}
