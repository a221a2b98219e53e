/** All that is live at one event: its hub, what it sends, and the pages connected to it. */
import { mayMessage, MESSAGE_RULES, whoMay } from '../../core/access/policy.ts';
import type { Actor } from '../../core/access/roles.ts';
import { clientOfEar, earOf } from '../../core/guests/crew-ear.ts';
import type { SendFault } from '../../core/delivery/send-fault.ts';
import type { IceServer } from '../../core/guests/messages.ts';
import type { ApiDelivery, HookEvent } from '../../core/programs/api.ts';
import { FIGURES_EVERY_MS } from '../../core/show/broadcast/report.ts';
import { partsOf, type Command, type PageCommand } from '../../core/show/command.ts';
import type { HubMessage, LiveStatus, PageMessage } from '../../core/show/messages.ts';
import { Refusal } from '../../core/refusal.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import { focusOf } from '../../core/afterwards/focus.ts';
import { wordsNow } from '../../core/watch-page/watched.ts';
import { VIEW_NAMES, type View } from '../../core/watch/views.ts';
import { BroadcastKeeper } from '../broadcast/keeper.ts';
import { log } from '../log.ts';
import { FencedOff } from '../nodes/fence.ts';
import { Watching } from './watching.ts';
import { serverCores } from '../processor.ts';
import { Guests } from '../guests/guests.ts';
import type { EventLog } from './event-log.ts';
import type { LineChecks } from './line-checks.ts';
import type { Hub, Sender } from './hub.ts';

/** A loudness of three seconds holds nothing of what was before by then. */
const SETTLED_MS = 5000;

/** Of words that stood, as a line of the log holds them. */
const [MOST_LINES, MOST_LINE_LETTERS] = [4, 90];

/** A page at the event. */
export interface Page extends Sender {
	actor: Actor;
	address: string;
	/** What its browser calls itself. */
	agent: string;
	send: (message: HubMessage) => void;
}

export class Room {
	readonly hub: Hub;
	readonly keeper: BroadcastKeeper;
	readonly log: EventLog;
	readonly guests: Guests;
	readonly checks: LineChecks;
	/** Pages that have asked for the line check, and what they were told last. */
	#wantCheck = new Map<string, Page['send']>();
	#toldCheck = '';
	/** Who watches from afar, by view. */
	readonly views = Object.fromEntries(VIEW_NAMES.map((view) => [view, new Watching(() => this.announce())])) as Record<
		View,
		Watching
	>;
	/** What the log has last of each destination, of holding, and of what is on air. */
	#noted = new Map<string, string>();
	/** Number of what was said last, of `live.noted`. */
	#lastSaid: number;
	/** When figures were written last. */
	#figuredAt = 0;
	/** Channels whose button is held, by page. */
	#held = new Map<string, Set<string>>();
	/** Called when a page takes the program over from another one on air. */
	onTakenOver: (page: Page) => void = () => {};
	/** Called when a page has begun or ended a broadcast. */
	onBroadcast: (page: Page, code: 'onAir' | 'offAir', about: Record<string, string>) => void = () => {};
	/** Called with the show after each change of it. */
	onChange: (state: ShowState) => void = () => {};
	/** Called with what other servers may want to be told. */
	onHappened: (delivery: ApiDelivery) => void = () => {};
	/** Called when a host takes the stream of a broadcast. */
	onSent: (destinationId: string) => void = () => {};
	/** Called when somebody was turned away: what they came by must open nothing any more. */
	onGuestRemoved: (guestId: string) => void = () => {};
	readonly #iceServers: (guestId: string) => IceServer[];
	/** Connections by page; one whose connection broke may be here twice. */
	#pages = new Map<string, Set<Page>>();
	/** The page that was told last that it makes the program. */
	#toldLease: string | null = null;
	readonly #ends = new Set<() => void>();

	/** @param iceServers by which a guest's browser and the desk's find each other */
	constructor(
		hub: Hub,
		makeKeeper: (changed: () => void, heldTooLong: () => void) => BroadcastKeeper,
		log: EventLog,
		iceServers: (guestId: string) => IceServer[],
		makeChecks: (room: Room) => LineChecks,
	) {
		this.hub = hub;
		this.log = log;
		this.#iceServers = iceServers;
		this.keeper = makeKeeper(
			() => this.announce(),
			() => this.#submit({ type: 'endBroadcast' }),
		);
		this.guests = new Guests({
			state: () => hub.state,
			desk: () => hub.engine,
			submit: (command) => this.#submit(command),
			tellDesk: (message) => this.#tellEngine(message),
			changed: () => this.hub.announce({ type: 'guests', guests: this.guests.list }),
			iceServers,
		});
		this.checks = makeChecks(this);
		this.#isNewBroadcast(hub.state);
		this.#lastSaid = hub.state.live.noted.at(-1)?.number ?? 0;
		this.#isNew('crew', hub.state.live.crew.at(-1)?.id ?? '');
		hub.onApplied = ({ command, at, by }, state) => {
			for (const each of partsOf(command)) {
				if (each.type === 'pressChannel') this.#noteHeld(by, each.channelId, each.pressed);
				if (each.type === 'removeGuest') this.onGuestRemoved(each.guestId);
			}
			this.keeper.follow(state);
			this.guests.follow();
			this.checks.follow(state, at);
			this.#noteShow(command, state, at);
			this.onChange(state);
		};
		this.keeper.follow(hub.state);
		this.keeper.finishLeftOver();
		hub.begin();
	}

	/** Brings figures and status up to date; called about once a second. */
	tick(now: number): void {
		this.keeper.measure(now);
		this.guests.follow();
		this.#noteFigures(now);
		this.checks.tick(now);
		if (this.#wantCheck.size > 0) void this.#tellCheck(now);
		if (this.#pages.size === 0 && !this.keeper.broadcast) return;
		this.announce();
		this.#tellViewers();
	}

	/** True when nobody is there, nothing is on air and nothing is due by itself. */
	get isIdle(): boolean {
		const { state, journal } = this.hub;
		const isQuiet =
			this.#pages.size === 0 && this.guests.list.length === 0 && !this.keeper.broadcast && !isOnAir(state);
		return isQuiet && state.live.due.length === 0 && journal.healthy;
	}

	/** Does a command of the server's own that may have become impossible meanwhile. */
	#submit(command: Command): void {
		this.hub.submitAsServer(command).catch((error: unknown) => {
			if (!(error instanceof Refusal)) log.error({ event: this.hub.eventId, err: error }, 'A command failed');
		});
	}

	/** Sends the status to every page. */
	announce(): void {
		this.#tellLease();
		const status = this.status();
		this.#noteDelivery(status);
		this.hub.announce(status);
	}

	#noteHeld(by: string, channelId: string, pressed: boolean): void {
		const held = this.#held.get(by) ?? new Set();
		if (pressed) held.add(channelId);
		else held.delete(channelId);
		this.#held.set(by, held);
	}

	#noteShow(command: Command, state: ShowState, at: number): void {
		if (this.#isNewBroadcast(state)) {
			const { rehearsal } = state.live.broadcast!;
			const is = !isOnAir(state) ? 'offAir' : rehearsal ? 'rehearses' : 'onAir';
			this.log.add(rehearsal ? 'rehearsal' : 'broadcast', { is }, at);
			if (!rehearsal) this.#tellOthers(is === 'offAir' ? 'ended' : 'onAir', '', at);
		}
		this.#noteSaid(state);
		const { count, done } = state.live.progress;
		const cue = done.at(-1);
		// Several of a batch are one here: only the last of them is seen.
		if (isOnAir(state) && cue && this.#isNew('cue', String(count))) this.#noteCue(cue);
		const scene = state.setup.scenes.find(({ id }) => id === state.live.program);
		if (isOnAir(state) && this.#isNew('program', scene?.id ?? ''))
			this.log.add('take', scene?.name ?? { is: 'black' }, at);
		if (!isOnAir(state)) this.#noted.delete('program');
		this.#noteForClips(state, at);
	}

	/** Writes down by what clips are made afterwards: where what was shown stood, and the words. */
	#noteForClips(state: ShowState, at: number): void {
		if (!isOnAir(state)) {
			for (const what of ['focus', 'words']) this.#noted.delete(what);
			return;
		}
		const focus = focusOf(state);
		if (focus && this.#isNew('focus', JSON.stringify(focus))) this.log.add('focus', { is: 'focus', ...focus }, at);
		const lines = wordsNow(state)
			.map((line) => line.slice(0, MOST_LINE_LETTERS))
			.slice(0, MOST_LINES);
		const before = this.#noted.get('words');
		if (this.#isNew('words', JSON.stringify(lines)) && (lines.length > 0 || before !== undefined))
			this.log.add('words', { is: 'words', lines }, at);
	}

	#noteCue({ name, plannedAt, startedAt }: ShowState['live']['progress']['done'][number]): void {
		this.log.add('cue', { is: 'cue', name, plannedAt }, startedAt);
		this.#tellOthers('cue', name, startedAt);
	}

	#tellOthers(type: HookEvent, text: string, at: number): void {
		const { eventId, setup } = this.hub.state;
		const event = { id: eventId, title: setup.title, startsAt: setup.startsAt };
		this.onHappened({ type, timestamp: new Date(at).toISOString(), data: { event, text } });
	}

	/** Does what somebody has said to the log, to viewers or to guests, since the last call. */
	#noteSaid({ live }: ShowState): void {
		const newest = live.crew.at(-1);
		if (newest && this.#isNew('crew', newest.id) && newest.to.is === 'pages' && newest.to.page === 'guests')
			this.guests.say(null, newest.text);
		for (const { number, is, text, at } of live.noted) {
			if (number <= this.#lastSaid) continue;
			this.#lastSaid = number;
			if (is === 'post') this.keeper.post(text);
			else {
				this.log.add('marker', text, at);
				this.#tellOthers('marker', text, at);
			}
		}
	}

	/** True when a broadcast has begun or ended since the last call. */
	#isNewBroadcast(state: ShowState): boolean {
		const { broadcast } = state.live;
		return broadcast !== null && this.#isNew('broadcast', `${broadcast.id} ${isOnAir(state)}`);
	}

	#noteDelivery({ destinations, holdingSince, rates, now }: LiveStatus): void {
		const { broadcast } = this.keeper;
		for (const { id, phase, fault } of destinations) {
			if (!this.#isNew(`destination ${id}`, phase) || (!broadcast && phase === 'off')) continue;
			const name = this.hub.state.setup.destinations.find((each) => each.id === id)?.name ?? id;
			// A rehearsal goes nowhere near the host.
			if ((phase === 'live' || phase === 'refused') && this.hub.state.live.broadcast?.rehearsal === false)
				this.#noteTried(id, phase === 'live' ? null : fault, now);
			this.log.add('destination', { is: 'destination', name, phase, fault }, now);
		}
		for (const [i, { kbps, plannedKbps }] of rates.entries()) {
			const before = this.#noted.get(`rate ${i}`);
			if (this.#isNew(`rate ${i}`, String(kbps)) && before !== undefined)
				this.log.add('rate', { is: 'rate', kbps, plannedKbps }, now);
		}
		if (rates.length === 0)
			for (const what of this.#noted.keys()) if (what.startsWith('rate ')) this.#noted.delete(what);
		if (this.#isNew('holding', String(holdingSince !== null)) && broadcast)
			this.log.add('holding', { is: 'holding', holds: holdingSince !== null }, now);
	}

	#noteTried(destinationId: string, fault: SendFault | null, now: number): void {
		this.checks.tried(destinationId, fault, now);
		if (fault === null) this.onSent(destinationId);
	}

	/** Writes down how the broadcast goes, every few seconds. */
	#noteFigures(now: number): void {
		const { broadcast } = this.keeper;
		if (!broadcast || now - this.#figuredAt < FIGURES_EVERY_MS) return;
		this.#figuredAt = now;
		const { report, sound } = this.hub;
		const { setup, live } = this.hub.state;
		const { picture } = setup;
		const { broadcast: begun } = live;
		// What sounded before the broadcast is not a part of it.
		const heard = sound && begun && now - begun.startedAt >= SETTLED_MS ? sound.mix : null;
		const known = new Set([...setup.destinations, ...live.removedDestinations].map(({ id }) => id));
		this.log.addFigures(broadcast.id, {
			destinations: broadcast.publishers.flatMap(({ order: { id, name }, status }) => {
				// A watch page's second size is none of its own.
				if (!known.has(id)) return [];
				const { phase, rateKbps: kbps, queueBytes, lostFrames, audience } = status;
				return { id, name, live: phase === 'live', kbps, queueBytes, lostFrames, viewers: audience?.viewers ?? null };
			}),
			rates: broadcast.rates,
			loudness: heard && { shortTerm: heard.shortTerm, integrated: heard.integrated },
			held: broadcast.holdingSince !== null,
			engine: report && { load: (report.frameMs * picture.fps) / 1000, due: report.due, encoded: report.encoded },
			guests: live.guests.flatMap(({ id, name, isIn }) => {
				const line = this.guests.list.find((each) => each.id === id)?.line;
				return isIn && line ? { id, name, lost: line.lost, roundTripMs: line.roundTripMs } : [];
			}),
			serverCores: serverCores(),
		});
	}

	#tellViewers(): void {
		const messages = this.keeper.viewerMessages;
		const newest = messages.at(-1)?.id ?? '';
		if (this.#isNew('viewers', `${messages.length} ${newest}`)) this.hub.announce({ type: 'viewers', messages });
		const { hiddenMessages } = this.hub.state.live;
		const seen = messages.filter(({ id }) => !hiddenMessages.includes(id));
		this.guests.viewers = seen.map(({ from, text, at }) => ({ from, text, at }));
	}

	/** Tells the line check where it has changed. */
	async #tellCheck(now: number): Promise<void> {
		try {
			const message = { type: 'check' as const, entries: await this.checks.entries(now) };
			// The time at which something is seen to go on being well is no news.
			const told = JSON.stringify(message.entries.map(({ at: _, ...entry }) => entry));
			if (told === this.#toldCheck) return;
			this.#toldCheck = told;
			for (const send of this.#wantCheck.values()) send(message);
		} catch (error) {
			log.error({ event: this.hub.eventId, err: error }, 'The line check could not be made');
		}
	}

	#isNew(what: string, value: string): boolean {
		const known = this.#noted.get(what);
		this.#noted.set(what, value);
		return known !== value;
	}

	status(): LiveStatus {
		const now = Date.now();
		return {
			type: 'status',
			now,
			destinations: this.keeper.statuses(this.hub.state.setup.destinations, now),
			recording: this.keeper.recording,
			engine: this.hub.engine,
			watched: VIEW_NAMES.filter((view) => this.views[view].isWatched),
			receiving: this.keeper.broadcast?.receiving ?? false,
			holdingSince: this.keeper.broadcast?.holdingSince ?? null,
			rates: this.keeper.broadcast?.rates ?? [],
			serverCores: serverCores(),
			stored: this.hub.journal.healthy,
			unreadable: this.hub.unreadable,
		};
	}

	/** Lets a page make the program if no other one does. */
	offerEngine(page: Page): void {
		if (mayMessage(page.role, 'wantEngine')) this.#lease(page, false);
	}

	/** Gives the lease, says so, and tells its secret to whom it concerns. */
	#lease(page: Page, takeOver: boolean, yields?: boolean): void {
		const before = this.hub.engine;
		const isNew = this.hub.leaseEngine(page.client, takeOver, yields) && before !== page.client;
		if (isNew && before !== null && isOnAir(this.hub.state)) this.onTakenOver(page);
		this.announce();
	}

	#tellLease(): void {
		const { engine } = this.hub;
		const secret = engine && this.hub.leaseOf(engine);
		if (secret === this.#toldLease) return;
		this.#toldLease = secret;
		this.guests.follow();
		for (const pages of this.#pages.values())
			for (const { client, send } of pages) send({ type: 'lease', secret: client === engine ? secret : null });
	}

	#tellEngine(message: HubMessage): void {
		for (const { send } of this.#pages.get(this.hub.engine ?? '') ?? []) send(message);
	}

	/** From the page that makes the program to a guest, or to a phone of the crew. */
	#signal({ guestId, connection, signal }: Extract<PageMessage, { type: 'guestSignal' }>): void {
		const client = clientOfEar(guestId);
		if (client === null) return this.guests.signal(guestId, connection, signal);
		for (const { send } of this.#pages.get(client) ?? []) send({ type: 'hearSignal', connection, signal });
	}

	/** Does what a page asks for. */
	async handleMessage(page: Page, message: PageMessage): Promise<void> {
		const { client, send: reply } = page;
		if (!mayMessage(page.role, message.type)) {
			const id = 'id' in message ? message.id : message.type;
			return reply({
				type: 'refused',
				id,
				reason: { code: 'forbidden', about: { who: whoMay(MESSAGE_RULES[message.type]) } },
			});
		}
		switch (message.type) {
			case 'command':
				return this.#handleCommand(page, message.id, message.command);
			case 'fell':
				return this.#handleFell(client, message.id, message.dueId, reply);
			case 'wantEngine':
				return this.#lease(page, message.takeOver, message.yields);
			case 'report':
				if (this.hub.engine === client) this.hub.report = message.report;
				return;
			case 'sound':
				if (this.hub.engine !== client) return;
				this.hub.sound = message.sound;
				this.hub.announce(message);
				return;
			case 'loudness':
				if (this.hub.engine !== client) return;
				this.hub.loudness = message.loudness;
				this.hub.announce(message);
				return;
			case 'guestSignal':
				if (this.hub.engine === client) this.#signal(message);
				return;
			case 'hear':
				return reply({ type: 'hears', iceServers: this.#iceServers(earOf(client)) });
			case 'hearSignal': {
				const { desk, connection, signal } = message;
				// One that is gone has no use for it.
				if (desk !== this.hub.engine) return;
				const guestId = earOf(client);
				return this.#tellEngine({
					...{ type: 'guestSignal', guestId, connection, signal },
					iceServers: this.#iceServers(guestId),
				});
			}
			case 'look':
				if (this.hub.engine === client) this.checks.look(message.look, Date.now());
				return;
			case 'station':
				return this.checks.station(client, page.actor, page.agent, message.station);
			case 'measured':
				return this.checks.measured(message.channelId, Date.now());
			case 'wantCheck':
				if (!message.wanted) return void this.#wantCheck.delete(client);
				this.#wantCheck.set(client, reply);
				this.#toldCheck = '';
				return this.#tellCheck(Date.now());
			case 'guestSay':
				return this.guests.say(message.guestId, message.text);
			case 'retry':
				this.keeper.broadcast?.publisherOf(message.destinationId)?.retry();
				return;
			case 'makePublic':
				await this.keeper.broadcast
					?.publisherOf(message.destinationId)
					?.makePublic()
					.catch(({ message: problem }: Error) => {
						const reason = { code: 'host' as const, about: { problem } };
						reply({ type: 'refused', id: 'makePublic', reason });
					});
				return this.announce();
		}
	}

	/** The engine has gone ahead; when somebody else was quicker, its page takes that over. */
	async #handleFell(by: string, id: string, dueId: string, reply: (message: HubMessage) => void): Promise<void> {
		const isEngine = this.hub.engine === by;
		try {
			if (!isEngine || (await this.hub.fallDue(by, id, dueId)) === 'before') reply(this.#doneBefore(id));
		} catch (error) {
			if (error instanceof FencedOff) return;
			if (!(error instanceof Refusal)) log.error({ event: this.hub.eventId, err: error }, 'What was due was not done');
			reply({ type: 'done', id });
		}
	}

	#doneBefore(id: string): HubMessage {
		return { type: 'done', id, ...(this.hub.isKept(id) && { kept: true }) };
	}

	async #handleCommand(page: Page, id: string, command: unknown): Promise<void> {
		const { send: reply } = page;
		try {
			// To a page that asks again the answer may have been lost.
			const done = await this.hub.submit(page, id, command);
			if (done === 'before') reply(this.#doneBefore(id));
			else this.#noteBroadcast(page, command as PageCommand);
		} catch (error) {
			if (error instanceof Refusal) return reply({ type: 'refused', id, reason: error.reason });
			// The page is about to come to the node that has the event, and says it there.
			if (error instanceof FencedOff) return;
			log.error({ event: this.hub.eventId, err: error }, 'A command failed');
			reply({ type: 'refused', id, reason: { code: 'fault', about: {} } });
		}
	}

	/** @param command one that has been done */
	#noteBroadcast(page: Page, command: PageCommand): void {
		for (const each of partsOf(command))
			if (each.type === 'startBroadcast') {
				const isRehearsal = this.hub.state.live.broadcast?.rehearsal === true;
				this.onBroadcast(page, 'onAir', isRehearsal ? { rehearsal: 'yes' } : {});
			} else if (each.type === 'endBroadcast') this.onBroadcast(page, 'offAir', {});
	}

	/** A page has come, perhaps before its broken connection is noticed to be gone. */
	join(page: Page): Page {
		this.#pages.set(page.client, (this.#pages.get(page.client) ?? new Set()).add(page));
		return page;
	}

	/** A connection of a page has gone. */
	leave(page: Page): void {
		const { client } = page;
		const connections = this.#pages.get(client)!;
		connections.delete(page);
		if (connections.size > 0) return;
		this.#pages.delete(client);
		this.checks.leave(client);
		this.#wantCheck.delete(client);
		// Nobody stays heard because a page has crashed.
		for (const channelId of this.#held.get(client) ?? [])
			this.#submit({ type: 'pressChannel', channelId, pressed: false });
		this.#held.delete(client);
		this.hub.release(client);
		this.announce();
	}

	/** @param listener told once, when the event is not open here any more; pages come again, to whoever has it */
	onEnd(listener: () => void): () => void {
		this.#ends.add(listener);
		return () => this.#ends.delete(listener);
	}

	#end(): void {
		for (const listener of this.#ends) listener();
		this.#ends.clear();
	}

	/** Lets go of the event, which belongs to another node. */
	async abandon(): Promise<void> {
		const sent = this.keeper.abandon();
		this.#end();
		this.guests.close();
		await sent;
		await this.hub.close();
		await this.log.close();
	}

	async close(): Promise<void> {
		this.guests.close();
		await this.keeper.close();
		await this.hub.close();
		await this.checks.close();
		await this.log.close();
	}
}
