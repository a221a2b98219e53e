/**
 * The guests of one event: their connections, who is there, and what they and the page that makes the program say to each
 * other to find a way between them. The show says where each of them is; this says how they do.
 */
import type {
	AboutGuest,
	FromGuest,
	GuestEnd,
	GuestPresence,
	IceServer,
	Said,
	Signal,
	ToGuest,
	ViewerWrote,
} from '../../core/guests/messages.ts';
import type { Command } from '../../core/show/command.ts';
import { recordedBeside, situationOf, wantedPicture } from '../../core/show/guests/guest.ts';
import type { HubMessage } from '../../core/show/messages.ts';
import { nextCue } from '../../core/show/runsheet/order.ts';
import type { ShowState } from '../../core/show/state.ts';
import type { View } from '../../core/watch/views.ts';

/** Sentences that are kept of each guest. */
const MOST_KEPT = 50;
/** A guest whose line is broken is told of, and keeps the seat; who was never let in is forgotten after this time. */
const FORGOTTEN_MS = 60_000;

const NOTHING_SAID: AboutGuest = {
	muted: false,
	cameraOff: false,
	sharing: false,
	hand: false,
	battery: null,
	records: false,
};

/** What the guests of an event are given to work with. */
export interface GuestsParts {
	state(): ShowState;
	/** The page that makes the program, by the name of its connection; null while there is none. */
	desk(): string | null;
	/** Does a command of the server's own. */
	submit(command: Command): void;
	/** To the page that makes the program. */
	tellDesk(message: Extract<HubMessage, { type: 'guestSignal' }>): void;
	/** Who is there has changed. */
	changed(): void;
	/** Servers by which two browsers find each other; credentials are good for a while only. */
	iceServers(guestId: string): IceServer[];
}

/** A page of a guest. */
export interface GuestConnection {
	/** That of the link they came by. */
	readonly id: string;
	send(message: ToGuest): void;
	/** Takes pictures of a view as well, or of none any more. */
	watch(view: View | null): void;
	close(): void;
}

interface There {
	connection: GuestConnection | null;
	presence: GuestPresence;
	/** What they were told last, so that it is not said twice. */
	told: string;
	/** What they want to see, and what they are sent. */
	watches: View | null;
	sent: View | null;
	/** True for who reads what viewers write, and what of it they were told last. */
	readsViewers: boolean;
	toldViewers: string;
}

export class Guests {
	readonly #parts: GuestsParts;
	readonly #there = new Map<string, There>();
	/** Who has been in the show: whoever is not any more was turned away. */
	readonly #wasKnown = new Set<string>();
	#viewers: readonly ViewerWrote[] = [];

	constructor(parts: GuestsParts) {
		this.#parts = parts;
	}

	/** As the crew sees them, in the order in which they came. */
	get list(): GuestPresence[] {
		return [...this.#there.values()].map(({ presence }) => presence);
	}

	/** A page was opened; a link that was open elsewhere is open here now. */
	join(connection: GuestConnection): void {
		const { id } = connection;
		const known = this.#there.get(id);
		if (known?.connection) this.#end(known.connection, 'elsewhere');
		const now = Date.now();
		const presence: GuestPresence = known
			? { ...known.presence, isThere: true, since: now, line: null }
			: { id, ...NOTHING_SAID, isThere: true, since: now, line: null, said: [] };
		this.#there.set(id, {
			connection,
			presence,
			told: '',
			watches: null,
			sent: null,
			readsViewers: false,
			toldViewers: '[]',
		});
		const { title, startsAt, timeZone } = this.#parts.state().setup;
		const { said } = presence;
		const iceServers = this.#parts.iceServers(id);
		connection.send({ type: 'welcome', title, startsAt, timeZone, name: this.#nameOf(id), said, iceServers });
		this.#tell(id);
		this.#parts.changed();
	}

	handle(connection: GuestConnection, message: FromGuest): void {
		const there = this.#there.get(connection.id);
		if (there?.connection !== connection) return;
		const { id } = connection;
		switch (message.type) {
			case 'knock':
				return this.#parts.submit({ type: 'guestArrived', guestId: id, name: message.name });
			case 'signal': {
				const { desk, connection: attempt, signal } = message;
				// A page that is gone has no use for it, and who is not let in has nothing to show but what waits at the door.
				if (desk !== this.#parts.desk() || !this.#isKnown(id)) return;
				const iceServers = this.#parts.iceServers(id);
				return this.#parts.tellDesk({ type: 'guestSignal', guestId: id, connection: attempt, signal, iceServers });
			}
			case 'about': {
				const { type: _, ...about } = message;
				return this.#change(there, about);
			}
			case 'line':
				return this.#change(there, { line: message.line });
			case 'watch':
				// Who waits at the door sees nothing yet.
				there.watches = message.view;
				return this.#watch(id, there);
			case 'readViewers':
				there.readsViewers = message.wanted;
				return this.#tellViewers(id, there);
			case 'say':
				return this.#say(there, { by: 'guest', text: message.text, at: Date.now() });
			case 'leave':
				this.#forget(id);
				if (this.#isKnown(id)) this.#parts.submit({ type: 'guestLeft', guestId: id });
				return connection.close();
		}
	}

	/** A connection has broken; its guest may be back in a moment. */
	leave(connection: GuestConnection): void {
		const there = this.#there.get(connection.id);
		if (there?.connection !== connection) return;
		there.connection = null;
		this.#change(there, { isThere: false, since: Date.now() });
	}

	/** From the page that makes the program, to one guest. */
	signal(guestId: string, connection: string, signal: Signal): void {
		this.#there.get(guestId)?.connection?.send({ type: 'signal', connection, signal });
	}

	/** From the crew, to one guest or to all. */
	say(guestId: string | null, text: string): void {
		const at = Date.now();
		for (const [id, there] of this.#there)
			if (guestId === null || id === guestId) this.#say(there, { by: 'crew', text, at });
	}

	/** Viewers have written, or something of it was hidden. */
	set viewers(wrote: readonly ViewerWrote[]) {
		this.#viewers = wrote.slice(-MOST_KEPT);
		for (const [id, there] of this.#there) this.#tellViewers(id, there);
	}

	#tellViewers(id: string, there: There): void {
		const wrote = there.readsViewers && this.#isIn(id) ? [...this.#viewers] : [];
		const told = JSON.stringify(wrote);
		if (told === there.toldViewers) return;
		there.toldViewers = told;
		there.connection?.send({ type: 'viewers', wrote });
	}

	/** The show, or the page that makes the program, is another one. */
	follow(): void {
		for (const [id, { connection, presence }] of this.#there) {
			if (this.#isKnown(id)) this.#tell(id);
			// They were there, and the crew has turned them away.
			else if (this.#wasKnown.delete(id)) {
				this.#there.delete(id);
				if (connection) this.#end(connection, 'removed');
			} else if (!presence.isThere && Date.now() - presence.since > FORGOTTEN_MS) this.#forget(id);
		}
		for (const { id } of this.#parts.state().live.guests) this.#wasKnown.add(id);
	}

	close(): void {
		for (const { connection } of this.#there.values()) connection?.close();
		this.#there.clear();
	}

	#isKnown(id: string): boolean {
		return this.#parts.state().live.guests.some((guest) => guest.id === id);
	}

	#isIn(id: string): boolean {
		return this.#parts.state().live.guests.some((guest) => guest.id === id && guest.isIn);
	}

	#nameOf(id: string): string {
		return this.#parts.state().live.guests.find((guest) => guest.id === id)?.name ?? '';
	}

	#forget(id: string): void {
		this.#there.delete(id);
		this.#wasKnown.delete(id);
		this.#parts.changed();
	}

	#end(connection: GuestConnection, why: GuestEnd): void {
		connection.send({ type: 'ended', why });
		connection.close();
	}

	#say(there: There, said: Said): void {
		there.connection?.send({ type: 'said', said });
		this.#change(there, { said: [...there.presence.said, said].slice(-MOST_KEPT) });
	}

	#change(there: There, part: Partial<GuestPresence>): void {
		there.presence = { ...there.presence, ...part };
		this.#parts.changed();
	}

	/** Who waits at the door sees nothing yet; where no scene was chosen for guests they see the program. */
	#watch(id: string, there: There): void {
		const { guestScene } = this.#parts.state().live;
		const wanted = there.watches === 'forGuests' && guestScene === null ? 'program' : there.watches;
		const view = this.#isIn(id) ? wanted : null;
		if (view === there.sent) return;
		there.sent = view;
		there.connection?.watch(view);
	}

	/** Tells a guest what is true for them now, unless they know. */
	#tell(id: string): void {
		const there = this.#there.get(id);
		const guest = this.#parts.state().live.guests.find((each) => each.id === id);
		if (!there?.connection || !guest) return;
		const show = this.#parts.state();
		const state = {
			situation: situationOf(show, guest),
			treatment: guest.treatment,
			picture: wantedPicture(show, guest, nextCue(show)?.sceneId ?? null),
			desk: this.#parts.desk(),
			hasScene: show.live.guestScene !== null,
			broadcast: recordedBeside(show, guest),
		};
		this.#watch(id, there);
		const told = JSON.stringify(state);
		if (told === there.told) return;
		there.told = told;
		there.connection.send({ type: 'situation', ...state, now: Date.now() });
	}
}
