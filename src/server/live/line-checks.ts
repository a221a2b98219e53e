/** What is known of an event for its line check: told by pages, tried by the server, kept over a restart. */
import Bowser from 'bowser';
import { eq } from 'drizzle-orm';
import type { Actor } from '../../core/access/roles.ts';
import type { SendFault } from '../../core/delivery/send-fault.ts';
import type { CheckEntry } from '../../core/line-check/entry.ts';
import { isChanged, looked, readFacts, type Facts, type Look, type Station } from '../../core/line-check/facts.ts';
import type { ConnectedStation, Known } from '../../core/line-check/known.ts';
import { lineCheck } from '../../core/line-check/line-check.ts';
import type { Setup, ShowState } from '../../core/show/state.ts';
import type { Db } from '../db/database.ts';
import { events } from '../db/schema.ts';
import { log } from '../log.ts';
import { again } from '../nodes/fence.ts';

/** Facts that a page tells come every few seconds; they are written no oftener than this. */
const WRITE_EVERY_MS = 5000;
/** What the library and the organisation know is asked again after so long. */
const ASK_EVERY_MS = 5000;

/** What the rest of the server knows of an event. */
export interface Knows {
	devices(): Known['devices'];
	links(): Known['links'];
	media(): Promise<Known['media']>;
	keys(): Promise<Known['keys']>;
}

/** What a room knows. */
interface RoomKnows {
	state(): ShowState;
	guests(): Known['guests'];
	roomS(): number | null;
	stored(): boolean;
}

export class LineChecks {
	readonly #db: Db;
	readonly #eventId: string;
	readonly #knows: Knows;
	readonly #room: RoomKnows;
	#facts: Facts;
	/** By page; a page that is gone is no station. */
	readonly #stations = new Map<string, ConnectedStation>();
	#written: Facts;
	#writtenAt = 0;
	#writing: Promise<void> = Promise.resolve();
	#asked: { at: number; media: Known['media']; keys: Known['keys'] } | null = null;
	/** As it was last. */
	#setup: Setup;
	#rehearsing = false;

	/** @param stored facts as the database has them */
	constructor(db: Db, eventId: string, stored: unknown, knows: Knows, room: RoomKnows) {
		this.#db = db;
		this.#eventId = eventId;
		this.#knows = knows;
		this.#room = room;
		this.#facts = this.#written = readFacts(stored);
		this.#setup = room.state().setup;
	}

	/** The page that makes the program has looked. */
	look(look: Look, at: number): void {
		const { sources, channels } = this.#room.state().setup;
		const known = (list: readonly { id: string }[], id: string) => list.some((each) => each.id === id);
		this.#facts = looked(
			this.#facts,
			{
				...look,
				sources: look.sources.filter(({ id }) => known(sources, id)),
				channels: look.channels.filter(({ id }) => known(channels, id)),
			},
			at,
		);
	}

	/** A page has said what machine it is on. @param agent what its browser calls itself */
	station(client: string, { kind, id, name }: Actor, agent: string, station: Station): void {
		const deviceId = kind === 'device' ? id : null;
		this.#stations.set(client, { ...station, name, deviceId, browser: browserOf(agent) });
	}

	leave(client: string): void {
		this.#stations.delete(client);
	}

	/** A host was asked whether it takes the stream, or it was sent. */
	tried(destinationId: string, fault: SendFault | null, at: number): void {
		if (!this.#room.state().setup.destinations.some(({ id }) => id === destinationId)) return;
		this.#facts = { ...this.#facts, destinations: { ...this.#facts.destinations, [destinationId]: { at, fault } } };
	}

	/** Somebody has measured how far a channel and its picture are apart. */
	measured(channelId: string, at: number): void {
		if (!this.#room.state().setup.channels.some(({ id }) => id === channelId)) return;
		this.#facts = { ...this.#facts, lips: { ...this.#facts.lips, [channelId]: at } };
	}

	/** Follows the show: what was changed since the last rehearsal has not been tried. */
	follow(state: ShowState, at: number): void {
		if (isChanged(this.#setup, state.setup)) this.#facts = { ...this.#facts, changedAt: at };
		this.#setup = state.setup;
		const { broadcast } = state.live;
		const isRehearsing = broadcast !== null && broadcast.rehearsal && broadcast.endedAt === null;
		if (this.#rehearsing && !isRehearsing) this.#facts = { ...this.#facts, rehearsedAt: at };
		this.#rehearsing = isRehearsing;
	}

	/** The check as things stand. */
	async entries(now: number): Promise<CheckEntry[]> {
		if (!this.#asked || now - this.#asked.at > ASK_EVERY_MS) {
			const [media, keys] = await Promise.all([this.#knows.media(), this.#knows.keys()]);
			this.#asked = { at: now, media, keys };
		}
		const { media, keys } = this.#asked;
		return lineCheck({
			...{ show: this.#room.state(), facts: this.#facts, stations: [...this.#stations.values()] },
			...{ devices: this.#knows.devices(), links: this.#knows.links(), guests: this.#room.guests() },
			...{ media, keys, roomS: this.#room.roomS(), stored: this.#room.stored(), now },
		});
	}

	/** Something of the organisation has changed: it is asked anew. */
	forget(): void {
		this.#asked = null;
	}

	/** Writes what is new, now and then. */
	tick(now: number): void {
		if (this.#facts !== this.#written && now - this.#writtenAt >= WRITE_EVERY_MS) void this.#write(now);
	}

	#write(now: number): Promise<void> {
		const facts = (this.#written = this.#facts);
		this.#writtenAt = now;
		// They are seen again soon: what cannot be written now is written with what comes next.
		const failed = (error: unknown) => log.warn({ event: this.#eventId, err: error }, 'Facts are not stored');
		this.#writing = this.#writing.then(async () => {
			const write = () => this.#db.update(events).set({ facts }).where(eq(events.id, this.#eventId));
			await again(write).catch(failed);
		});
		return this.#writing;
	}

	async close(): Promise<void> {
		if (this.#facts !== this.#written) await this.#write(Date.now());
		await this.#writing;
	}
}

/** Browsers by the engine that they share. */
const ENGINES: Readonly<Record<string, string>> = { Blink: 'Chromium', Gecko: 'Firefox', WebKit: 'Safari' };

/** A browser's engine and first number; null where it does not say. */
function browserOf(agent: string): ConnectedStation['browser'] {
	if (agent === '') return null;
	const { browser, engine } = Bowser.parse(agent);
	const version = Number.parseInt(browser.version ?? '', 10);
	const name = ENGINES[engine.name ?? ''];
	return name && Number.isFinite(version) ? { name, version } : null;
}
