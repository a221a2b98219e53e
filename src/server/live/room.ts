/** All that is live at one event: its hub, what it sends, and the pages connected to it. */
import { randomUUID } from 'node:crypto';
import { FIGURES_EVERY_MS } from '../../core/show/report.ts';
import type { Command } from '../../core/show/command.ts';
import type { HubMessage, LiveStatus, PageMessage } from '../../core/show/live.ts';
import { isOnAir, type ShowState } from '../../core/show/state.ts';
import { BroadcastKeeper } from '../broadcast/keeper.ts';
import { serverCores } from '../processor.ts';
import type { Bus } from './bus.ts';
import type { EventLog } from './event-log.ts';
import type { Hub } from './hub.ts';

const STATUS_EVERY_MS = 1000;

export class Room {
	readonly hub: Hub;
	readonly keeper: BroadcastKeeper;
	readonly log: EventLog;
	/** What was noted last of each destination, of what viewers see, and of what is on air. */
	#noted = new Map<string, string>();
	#bus: Bus;
	#timer: NodeJS.Timeout;
	/** When figures were written last. */
	#figuredAt = 0;
	/** Channels whose button is held, by page. */
	#held = new Map<string, Set<string>>();
	/** Connections by page. */
	#pages = new Map<string, number>();

	constructor(
		hub: Hub,
		makeKeeper: (changed: () => void, heldTooLong: () => void) => BroadcastKeeper,
		bus: Bus,
		log: EventLog,
	) {
		this.hub = hub;
		this.log = log;
		this.#bus = bus;
		this.keeper = makeKeeper(
			() => this.announce(),
			() => void hub.submit('server', `held-${hub.state.broadcast?.id}`, { type: 'endBroadcast' }),
		);
		hub.onApplied = ({ command, at, by }, state) => {
			if (command.type === 'pressChannel') this.#noteHeld(by, command.channelId, command.pressed);
			this.keeper.follow(state);
			this.#noteShow(command, state, at);
		};
		this.keeper.follow(hub.state);
		this.#timer = setInterval(() => {
			this.keeper.measure(Date.now());
			this.#endWhenDue(Date.now());
			this.announce();
			this.#tellViewers();
			this.#noteFigures(Date.now());
		}, STATUS_EVERY_MS);
	}

	/** Tells every page how things stand. */
	announce(): void {
		const status = this.status();
		this.#noteDelivery(status);
		this.#bus.publish(this.hub.eventId, status);
	}

	#endWhenDue(now: number): void {
		const { state } = this.hub;
		const endsAt = isOnAir(state) ? state.broadcast!.endsAt : null;
		if (endsAt !== null && now >= endsAt)
			void this.hub.submit('server', `ends-${state.broadcast!.id}-${endsAt}`, { type: 'endBroadcast' });
	}

	#noteHeld(by: string, channelId: string, pressed: boolean): void {
		const held = this.#held.get(by) ?? new Set();
		if (pressed) held.add(channelId);
		else held.delete(channelId);
		this.#held.set(by, held);
	}

	#noteShow(command: Command, state: ShowState, at: number): void {
		if (command.type === 'startBroadcast') this.log.add('broadcast', command.rehearsal ? 'Rehearsal' : 'On air', at);
		if (command.type === 'endBroadcast') this.log.add('broadcast', 'Off air', at);
		if (command.type === 'addMarker') this.log.add('marker', command.text, at);
		const scene = state.scenes.find(({ id }) => id === state.program);
		if (isOnAir(state) && this.#isNew('program', scene?.id ?? '')) this.log.add('take', scene?.name ?? 'Black', at);
		if (!isOnAir(state)) this.#noted.delete('program');
	}

	#noteDelivery({ destinations, holdingSince, rates, now }: LiveStatus): void {
		const { broadcast } = this.keeper;
		for (const { id, phase, reason } of destinations) {
			if (!this.#isNew(`destination ${id}`, phase) || (!broadcast && phase === 'off')) continue;
			const name = this.hub.state.destinations.find((each) => each.id === id)?.name ?? id;
			this.log.add('destination', `${name}: ${phase}${reason ? `, ${reason}` : ''}`, now);
		}
		for (const [i, { kbps, plannedKbps }] of rates.entries()) {
			const before = this.#noted.get(`rate ${i}`);
			if (this.#isNew(`rate ${i}`, String(kbps)) && before !== undefined)
				this.log.add('rate', `The picture takes ${kbps} of ${plannedKbps} kbit/s`, now);
		}
		if (rates.length === 0)
			for (const what of this.#noted.keys()) if (what.startsWith('rate ')) this.#noted.delete(what);
		if (this.#isNew('holding', String(holdingSince !== null)) && broadcast)
			this.log.add('holding', holdingSince === null ? 'Viewers see the program' : 'Viewers see the holding card', now);
	}

	/** Writes down how the broadcast goes, every few seconds. */
	#noteFigures(now: number): void {
		const { broadcast } = this.keeper;
		if (!broadcast || now - this.#figuredAt < FIGURES_EVERY_MS) return;
		this.#figuredAt = now;
		const { report, sound } = this.hub;
		const { picture, broadcast: begun } = this.hub.state;
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
		if (this.#isNew('viewers', `${messages.length} ${newest}`))
			this.#bus.publish(this.hub.eventId, { type: 'viewers', messages });
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
			destinations: this.keeper.statuses(this.hub.state.destinations, now),
			recording: this.keeper.recording,
			engine: this.hub.engine,
			receiving: this.keeper.broadcast?.receiving ?? false,
			holdingSince: this.keeper.broadcast?.holdingSince ?? null,
			rates: this.keeper.broadcast?.rates ?? [],
			serverCores: serverCores(),
			stored: this.hub.journal.healthy,
		};
	}

	/**
	 * What a page asks for.
	 * @param reply to this page only
	 */
	async take(client: string, message: PageMessage, reply: (message: HubMessage) => void): Promise<void> {
		switch (message.type) {
			case 'command': {
				const reason = await this.hub.submit(client, message.id, message.command);
				if (reason !== null) reply({ type: 'refused', id: message.id, reason });
				return;
			}
			case 'wantEngine':
				this.hub.leaseEngine(client, message.takeOver);
				return this.announce();
			case 'report':
				if (this.hub.engine === client) this.hub.report = message.report;
				return;
			case 'sound':
				if (this.hub.engine !== client) return;
				this.hub.sound = message.sound;
				this.#bus.publish(this.hub.eventId, message);
				return;
			case 'loudness':
				if (this.hub.engine !== client) return;
				this.hub.loudness = message.loudness;
				this.#bus.publish(this.hub.eventId, message);
				return;
			case 'retry':
				this.keeper.broadcast?.publisherOf(message.destinationId)?.retry();
				return;
			case 'makePublic':
				await this.keeper.broadcast
					?.publisherOf(message.destinationId)
					?.makePublic()
					.catch(({ message: reason }: Error) => reply({ type: 'refused', id: 'makePublic', reason }));
				return this.announce();
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
			void this.hub.submit('server', randomUUID(), { type: 'pressChannel', channelId, pressed: false });
		this.#held.delete(client);
		this.hub.release(client);
		this.announce();
	}

	async close(): Promise<void> {
		clearInterval(this.#timer);
		await this.keeper.close();
		await this.hub.journal.close();
		await this.log.close();
	}
}
