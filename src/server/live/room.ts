/** All that is live at one event: its hub, what it sends, and the pages connected to it. */
import { FIGURES_EVERY_MS } from '../../core/show/broadcast/report.ts';
import { partsOf, type Command } from '../../core/show/command.ts';
import type { HubMessage, LiveStatus, PageMessage } from '../../core/show/messages.ts';
import { Refusal } from '../../core/refusal.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import { BroadcastKeeper } from '../broadcast/keeper.ts';
import { log } from '../log.ts';
import { serverCores } from '../processor.ts';
import type { EventLog } from './event-log.ts';
import type { Hub } from './hub.ts';

export class Room {
	readonly hub: Hub;
	readonly keeper: BroadcastKeeper;
	readonly log: EventLog;
	/** What the log has last of each destination, of holding, and of what is on air. */
	#noted = new Map<string, string>();
	/** When figures were written last. */
	#figuredAt = 0;
	/** Channels whose button is held, by page. */
	#held = new Map<string, Set<string>>();
	/** Connections by page. */
	#pages = new Map<string, number>();

	constructor(hub: Hub, makeKeeper: (changed: () => void, heldTooLong: () => void) => BroadcastKeeper, log: EventLog) {
		this.hub = hub;
		this.log = log;
		this.keeper = makeKeeper(
			() => this.announce(),
			() => this.#submit({ type: 'endBroadcast' }),
		);
		this.#isNewBroadcast(hub.state);
		hub.onApplied = ({ command, at, by }, state) => {
			for (const each of partsOf(command))
				if (each.type === 'pressChannel') this.#noteHeld(by, each.channelId, each.pressed);
			this.keeper.follow(state);
			this.#noteShow(command, state, at);
		};
		this.keeper.follow(hub.state);
		this.keeper.finishLeftOver();
		hub.begin();
	}

	/** Brings figures and status up to date; called about once a second. */
	tick(now: number): void {
		this.keeper.measure(now);
		this.#noteFigures(now);
		if (this.#pages.size === 0 && !this.keeper.broadcast) return;
		this.announce();
		this.#tellViewers();
	}

	/** True when nobody is there, nothing is on air and nothing is due by itself. */
	get isIdle(): boolean {
		const { state, journal } = this.hub;
		const isQuiet = this.#pages.size === 0 && !this.keeper.broadcast && !isOnAir(state);
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
		}
		for (const each of partsOf(command)) if (each.type === 'addMarker') this.log.add('marker', each.text, at);
		const scene = state.setup.scenes.find(({ id }) => id === state.live.program);
		if (isOnAir(state) && this.#isNew('program', scene?.id ?? ''))
			this.log.add('take', scene?.name ?? { is: 'black' }, at);
		if (!isOnAir(state)) this.#noted.delete('program');
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

	/** Writes down how the broadcast goes, every few seconds. */
	#noteFigures(now: number): void {
		const { broadcast } = this.keeper;
		if (!broadcast || now - this.#figuredAt < FIGURES_EVERY_MS) return;
		this.#figuredAt = now;
		const { report, sound } = this.hub;
		const { picture } = this.hub.state.setup;
		const { broadcast: begun } = this.hub.state.live;
		// What sounded before the broadcast is not a part of it.
		const heard = sound && begun && now - begun.startedAt >= FIGURES_EVERY_MS ? sound.mix : null;
		this.log.addFigures(broadcast.id, {
			destinations: broadcast.publishers.map(({ order: { id, name }, status }) => {
				const { phase, rateKbps: kbps, queueBytes, lostFrames } = status;
				return { id, name, live: phase === 'live', kbps, queueBytes, lostFrames };
			}),
			rates: broadcast.rates,
			loudness: heard && { shortTerm: heard.shortTerm, integrated: heard.integrated },
			held: broadcast.holdingSince !== null,
			engine: report && { load: (report.frameMs * picture.fps) / 1000, due: report.due, encoded: report.encoded },
			serverCores: serverCores(),
		});
	}

	#tellViewers(): void {
		const messages = this.keeper.viewerMessages;
		const newest = messages.at(-1)?.id ?? '';
		if (this.#isNew('viewers', `${messages.length} ${newest}`)) this.hub.announce({ type: 'viewers', messages });
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
			receiving: this.keeper.broadcast?.receiving ?? false,
			holdingSince: this.keeper.broadcast?.holdingSince ?? null,
			rates: this.keeper.broadcast?.rates ?? [],
			serverCores: serverCores(),
			stored: this.hub.journal.healthy,
			unreadable: this.hub.unreadable,
		};
	}

	/**
	 * Does what a page asks for.
	 * @param reply to this page only
	 */
	async handleMessage(client: string, message: PageMessage, reply: (message: HubMessage) => void): Promise<void> {
		switch (message.type) {
			case 'command':
				return this.#handleCommand(client, message.id, message.command, reply);
			case 'wantEngine':
				this.hub.leaseEngine(client, message.takeOver);
				return this.announce();
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

	async #handleCommand(by: string, id: string, command: unknown, reply: (message: HubMessage) => void): Promise<void> {
		try {
			// To a page that asks again the answer may have been lost.
			if ((await this.hub.submit(by, id, command)) === 'before') reply({ type: 'done', id });
		} catch (error) {
			if (error instanceof Refusal) return reply({ type: 'refused', id, reason: error.reason });
			log.error({ event: this.hub.eventId, err: error }, 'A command failed');
			reply({ type: 'refused', id, reason: { code: 'fault', about: {} } });
		}
	}

	/** A page has come, perhaps before its broken connection is noticed to be gone. */
	join(client: string): void {
		this.#pages.set(client, (this.#pages.get(client) ?? 0) + 1);
	}

	/** A connection of a page has gone. */
	leave(client: string): void {
		const left = this.#pages.get(client)! - 1;
		if (left > 0) {
			this.#pages.set(client, left);
			return;
		}
		this.#pages.delete(client);
		// Nobody stays heard because a page has crashed.
		for (const channelId of this.#held.get(client) ?? [])
			this.#submit({ type: 'pressChannel', channelId, pressed: false });
		this.#held.delete(client);
		this.hub.release(client);
		this.announce();
	}

	async close(): Promise<void> {
		await this.keeper.close();
		await this.hub.close();
		await this.log.close();
	}
}
