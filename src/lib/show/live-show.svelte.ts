/**
 * A page's view of an event: the hub's state, with this page's own commands applied ahead of the hub's answer.
 * Nothing else on a page holds show state.
 */
import ReconnectingWebSocket from 'partysocket/ws';
import type { GuestPresence } from '../../core/guests/messages.ts';
import type { CheckEntry } from '../../core/line-check/entry.ts';
import type { RefusalMessage } from '../../core/refusal.ts';
import {
	MOST_COMMAND_BYTES,
	type PageCommand,
	type ServerCommand,
	type SingleCommand,
} from '../../core/show/command.ts';
import type {
	BroadcastLoudness,
	HubMessage,
	LiveStatus,
	PageMessage,
	SoundReport,
	ViewerMessage,
} from '../../core/show/messages.ts';
import { withNext } from '../../core/show/movement.ts';
import { RECONNECT } from '../../core/show/reconnect.ts';
import { reduceAll, tryReduce } from '../../core/show/reduce.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import { StampClock } from '../../core/stamp-clock.ts';

/** The hub says how things stand each second. A line that says nothing for so many checks is torn, also when nobody closed it. */
const SILENT_CHECKS = 4;
const CHECK_MS = 1000;
const CLOSE_NO_EVENT = 4004;
const CLOSE_CHANGED = 4001;
/** So many of its commands a page says again at most. The server remembers more, and closes on a flood of them. */
const MOST_SAID_AGAIN = 500;
/** The server's clock is told from what came fastest within one to two of these: a page that is busy reads late. */
const CLOCK_WINDOW_MS = 30_000;
/** By less than this it is not set: what moves by it would stutter. */
const CLOCK_STEP_MS = 20;
/** What a message has around its command. */
const MESSAGE_BYTES = 200;

interface Pending {
	id: string;
	/** When it was asked for, milliseconds since 1970 by the server's clock. */
	at: number;
	command: PageCommand | Extract<ServerCommand, { type: 'fallDue' }>;
}

/** How a command of this page is told to the hub. */
function messageOf({ id, command }: Pending): PageMessage {
	return command.type === 'fallDue' ? { type: 'fell', id, dueId: command.dueId } : { type: 'command', id, command };
}

export class LiveShow {
	/** What the hub has said. */
	#confirmed = $state.raw<ShowState | null>(null);
	#pending = $state.raw<Pending[]>([]);
	/** Done at the hub, which could not write them yet: they may be lost with it, and are said again to the next one. */
	#kept: Pending[] = [];
	#status = $state.raw<LiveStatus | null>(null);
	#sound = $state.raw<SoundReport | null>(null);
	#viewers = $state.raw<ViewerMessage[]>([]);
	#guests = $state.raw<GuestPresence[]>([]);
	/** The line check, where this page has asked for it. */
	check = $state.raw<readonly CheckEntry[] | null>(null);
	#wantsCheck = false;
	#connected = $state(false);
	#gone = $state(false);
	#state = $derived(
		this.#confirmed &&
			this.#pending.reduce((state, { command, at }) => reduceAll(state, [command], at), this.#confirmed),
	);
	#loudness: BroadcastLoudness | null = null;
	/** This page's name at the event, which the server gives it; the same after a broken connection. */
	#client = $state<string | null>(null);
	/** What whoever sits here may do. */
	#lease = $state<string | null>(null);
	/** Told at once of whatever has changed, before anything is drawn. */
	onChange: () => void = () => {};
	/** Told when the hub can be reached again, before anything else is said. */
	onWelcome: () => void = () => {};
	/** Told when the server's clock is known better than by the welcome. */
	onClock: () => void = () => {};
	/** Told of each step of making a connection with a guest, where this page makes the program. */
	onGuestSignal: (message: Extract<HubMessage, { type: 'guestSignal' }>) => void = () => {};
	/** Told of each step of making a connection with the desk, on a phone that hears it. */
	onHear: (message: Extract<HubMessage, { type: 'hears' | 'hearSignal' }>) => void = () => {};
	/** Server's clock minus this machine's, milliseconds. */
	clockOffsetMs = $state(0);
	#clock = new StampClock(CLOCK_WINDOW_MS);
	#seq = 0;
	#socket: ReconnectingWebSocket;
	/** Checks since the hub was heard. They are counted, not times: a machine that was busy has heard nothing either. */
	#silentChecks = 0;
	readonly #checking: ReturnType<typeof setInterval>;
	#onRefused: (reason: RefusalMessage) => void;

	/**
	 * @param makesProgram lets this page make the program whenever no other one does
	 * @param onRefused told when a command of this page could not be done
	 */
	constructor(eventId: string, makesProgram: boolean, onRefused: (reason: RefusalMessage) => void) {
		const offer = makesProgram ? '&engine' : '';
		const url = `${location.origin.replace(/^http/, 'ws')}/live/${eventId}?page=${crypto.randomUUID()}${offer}`;
		this.#onRefused = onRefused;
		this.#socket = new ReconnectingWebSocket(url, [], {
			...RECONNECT,
			// What a page has to say is said again after the welcome; nothing of before may arrive ahead of it.
			maxEnqueuedMessages: 0,
			shouldReconnectOnClose: ({ code }) => code !== CLOSE_NO_EVENT,
		});
		this.#socket.onmessage = ({ data }: MessageEvent<string>) => {
			this.#silentChecks = 0;
			this.#handleMessage(JSON.parse(data) as HubMessage);
			this.onChange();
		};
		this.#socket.onclose = ({ code }) => {
			this.#connected = false;
			if (code === CLOSE_NO_EVENT) this.#gone = true;
			// The server says who may be here; the page it answers with says so too.
			if (code === CLOSE_CHANGED) location.reload();
		};
		this.#checking = setInterval(() => this.#check(), CHECK_MS);
	}

	/** A phone that is out of reach is not told so: it shows what is no longer true, and believes that it was heard. */
	#check(): void {
		if (!this.#connected || ++this.#silentChecks < SILENT_CHECKS) return;
		this.#silentChecks = 0;
		this.#connected = false;
		this.#socket.reconnect();
	}

	/** The show as this page knows it, or null before the first answer. */
	get state(): ShowState | null {
		return this.#state;
	}

	/** Milliseconds since 1970 by the server's clock. */
	get now(): number {
		return Date.now() + this.clockOffsetMs;
	}

	get status(): LiveStatus | null {
		return this.#status;
	}

	/** True while this page has the lease to make the program. */
	get makesProgram(): boolean {
		return this.#client !== null && this.#status?.engine === this.#client && this.#lease !== null;
	}

	/** What this page shows when it sends the program; null while it does not make it. */
	get lease(): string | null {
		return this.#lease;
	}

	/** What the engine of another page hears. */
	get sound(): SoundReport | null {
		return this.#sound;
	}

	/** How loud the broadcast on air has been so far, as the page tells that makes the program; none before one does. */
	get loudnessHistory(): readonly number[] {
		const state = this.#state;
		const isOfThis = state && isOnAir(state) && this.#loudness?.broadcastId === state.live.broadcast!.id;
		return isOfThis ? this.#loudness!.history : [];
	}

	/** What viewers have written at this broadcast. */
	get viewers(): ViewerMessage[] {
		return this.#viewers;
	}

	/** How guests do, besides where they are. */
	get guests(): GuestPresence[] {
		return this.#guests;
	}

	get connected(): boolean {
		return this.#connected;
	}

	/** True when there is no such event. */
	get gone(): boolean {
		return this.#gone;
	}

	/**
	 * Does a command here at once and at the hub as soon as it can be reached.
	 * @returns commands that take it back, or null when it cannot be done
	 */
	send(command: PageCommand): readonly SingleCommand[] | null {
		if (!this.#state) return null;
		const outcome = tryReduce(this.#state, command, this.now);
		const bytes = new TextEncoder().encode(JSON.stringify(command)).length;
		const tooLarge = bytes > MOST_COMMAND_BYTES - MESSAGE_BYTES;
		if ('refused' in outcome || tooLarge) {
			const limit = { code: 'tooLarge' as const, about: { bytes, most: MOST_COMMAND_BYTES } };
			this.#onRefused('refused' in outcome ? outcome.refused : limit);
			return null;
		}
		this.#expect(command);
		return outcome.inverse;
	}

	/** The engine has done what is due under an id: it is done here as well, and the hub is told. */
	fell(dueId: string): void {
		this.#expect({ type: 'fallDue', dueId });
	}

	#expect(command: Pending['command']): void {
		const pending = { id: crypto.randomUUID(), at: this.now, command };
		this.#pending = this.#connected ? [...this.#pending, pending] : withNext(this.#pending, pending);
		this.#post(messageOf(pending));
		this.onChange();
	}

	/** Asks for the line check from now on. */
	wantCheck(): void {
		if (this.#wantsCheck) return;
		this.#wantsCheck = true;
		this.#post({ type: 'wantCheck', wanted: true });
	}

	post(message: Exclude<PageMessage, { type: 'command' | 'fell' }>): void {
		this.#post(message);
	}

	#post(message: PageMessage): void {
		if (this.#socket.readyState === ReconnectingWebSocket.OPEN) this.#socket.send(JSON.stringify(message));
	}

	#handleMessage(message: HubMessage): void {
		switch (message.type) {
			case 'welcome':
				// It may be another server by now.
				this.#clock = new StampClock(CLOCK_WINDOW_MS);
				this.#setClock(message.status.now);
				this.#client = message.client;
				this.#lease = message.lease;
				this.#confirmed = message.state;
				this.#status = message.status;
				this.#loudness = message.loudness;
				this.#seq = message.seq;
				this.#connected = true;
				this.#guests = [];
				// The hub knows the ids of those it has done already.
				for (const said of [...this.#kept, ...this.#pending]) this.#post(messageOf(said));
				this.onWelcome();
				if (this.#wantsCheck) this.#post({ type: 'wantCheck', wanted: true });
				return;
			case 'applied': {
				if (message.seq <= this.#seq) return;
				const outcome = tryReduce(this.#confirmed!, message.command, message.at);
				if ('state' in outcome) this.#confirmed = outcome.state;
				this.#seq = message.seq;
				this.#settle(message.id, message.kept);
				return;
			}
			case 'done':
				this.#settle(message.id, message.kept);
				return;
			case 'refused':
				this.#settle(message.id);
				this.#onRefused(message.reason);
				return;
			case 'lease':
				this.#lease = message.secret;
				return;
			case 'viewers':
				this.#viewers = message.messages;
				return;
			case 'guests':
				this.#guests = message.guests;
				return;
			case 'check':
				this.check = message.entries;
				return;
			case 'guestSignal':
				return this.onGuestSignal(message);
			case 'hears':
			case 'hearSignal':
				return this.onHear(message);
			case 'sound':
				this.#sound = message.sound;
				return;
			case 'loudness':
				this.#loudness = message.loudness;
				return;
			case 'status':
				this.#status = message;
				if (this.#setClock(message.now)) this.onClock();
				// What was heard last is not what is heard.
				if (message.engine === null) this.#sound = null;
		}
	}

	/**
	 * Reads the server's clock from a message that carries it.
	 * @param now the server's, when it said so
	 * @returns true when it is another one than was known
	 */
	#setClock(now: number): boolean {
		const offsetMs = now - this.#clock.onTime(now, Date.now());
		if (Math.abs(offsetMs - this.clockOffsetMs) < CLOCK_STEP_MS) return false;
		this.clockOffsetMs = offsetMs;
		return true;
	}

	#settle(id: string, isKept = false): void {
		const pending = this.#pending.find((each) => each.id === id);
		if (pending) this.#pending = this.#pending.filter((each) => each !== pending);
		if (!isKept) this.#kept = this.#kept.filter((each) => each.id !== id);
		else if (pending) this.#kept = withNext(this.#kept, pending).slice(-MOST_SAID_AGAIN);
	}

	close(): void {
		clearInterval(this.#checking);
		this.#socket.close();
	}
}
