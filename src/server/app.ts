/** The server as one thing: opened once, used by the routes and the WebSockets, closed in good order. */
import { mkdir } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import path from 'node:path';
import type { Duplex } from 'node:stream';
import type { EngineReport } from '../core/show/live.ts';
import { alignDestinations } from './access/destination-form.ts';
import { SavedDestinations, savedOf } from './access/saved-destinations.ts';
import { openKeyFile } from './access/secrets.ts';
import { BroadcastKeeper } from './broadcast/keeper.ts';
import type { Config } from './config.ts';
import { openDatabase, type Db } from './db/database.ts';
import { seedDemo } from './demo.ts';
import { Stills } from './files/stills.ts';
import { Recordings } from './files/recordings.ts';
import { InProcessBus } from './live/bus.ts';
import { EventLog } from './live/event-log.ts';
import { Hub } from './live/hub.ts';
import { Journal } from './live/journal.ts';
import { Room } from './live/room.ts';
import { Sockets } from './live/sockets.ts';

export interface Health {
	database: 'ok' | 'lost';
	hub: { events: number; stored: boolean };
	broadcasts: {
		event: string;
		receiving: boolean;
		destinations: Record<string, string>;
		recording: string;
		engine: EngineReport | null;
	}[];
}

export interface Bivvo {
	config: Config;
	db: Db;
	destinations: SavedDestinations;
	stills: Stills;
	recordings: Recordings;
	/** The live side of an event, or null when there is no such event. */
	roomOf(eventId: string): Promise<Room | null>;
	/** Of all events that somebody has opened since the start. */
	openRooms(): Promise<Room[]>;
	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void;
	health(): Promise<Health>;
	seedDemo(): Promise<void>;
	close(): Promise<void>;
}

/** @throws with a sentence for the operator when the database or the data folder cannot be used. */
export async function openBivvo(config: Config): Promise<Bivvo> {
	await mkdir(config.dataFolder, { recursive: true });
	const database = await openDatabase(config.databaseUrl, config.migrationsFolder);
	const { db } = database;
	const destinations = new SavedDestinations(db, await openKeyFile(config.dataFolder));
	const recordings = new Recordings(db, path.join(config.dataFolder, 'recordings'));
	const bus = new InProcessBus();
	const rooms = new Map<string, Promise<Room | null>>();

	async function openRoom(eventId: string): Promise<Room | null> {
		const journal = new Journal(db, eventId);
		const stored = await journal.load();
		if (!stored) return null;
		const hub = new Hub(eventId, stored, journal, bus);
		const eventLog = new EventLog(db, eventId);
		const makeKeeper = (...told: [() => void, () => void]) =>
			new BroadcastKeeper(eventId, recordings, destinations, config.rehearsalUrl, ...told);
		const room = new Room(hub, makeKeeper, bus, eventLog);
		await alignWithOrganisation(room);
		return room;
	}

	/** Another event may have changed a destination since this one was open. */
	async function alignWithOrganisation(room: Room): Promise<void> {
		const saved = await destinations.list();
		for (const known of room.hub.state.destinations)
			if (!saved.some(({ id }) => id === known.id) && known.hasKey) await destinations.adopt(savedOf(known));
		await alignDestinations(room, saved);
	}

	async function roomOf(eventId: string): Promise<Room | null> {
		const opening = rooms.get(eventId) ?? openRoom(eventId);
		rooms.set(eventId, opening);
		try {
			const room = await opening;
			if (!room) rooms.delete(eventId);
			return room;
		} catch (error) {
			rooms.delete(eventId);
			throw error;
		}
	}

	async function openRooms(): Promise<Room[]> {
		const all = await Promise.all([...rooms.values()].map((opening) => opening.catch(() => null)));
		return all.filter((room) => room !== null);
	}

	const sockets = new Sockets(roomOf, bus);
	return {
		config,
		db,
		destinations,
		openRooms,
		recordings,
		stills: new Stills(path.join(config.dataFolder, 'files')),
		roomOf,
		upgrade: (request, socket, head) => sockets.upgrade(request, socket, head),
		async health() {
			const open = await openRooms();
			return {
				database: (await database.answers()) ? 'ok' : 'lost',
				hub: { events: open.length, stored: open.every(({ hub }) => hub.journal.healthy) },
				broadcasts: open.flatMap(({ hub, keeper }) => (keeper.broadcast ? [broadcastHealth(hub, keeper)] : [])),
			};
		},
		async seedDemo() {
			const { standInRtmpPort: rtmpPort, lineTestUrl } = config;
			const webUrl = lineTestUrl && new URL(lineTestUrl).origin;
			if (rtmpPort !== null) await seedDemo(db, destinations, { rtmpPort, webUrl });
		},
		async close() {
			sockets.close();
			for (const room of await openRooms()) await room.close();
			await recordings.close();
			await database.close();
		},
	};
}

function broadcastHealth(hub: Hub, keeper: BroadcastKeeper): Health['broadcasts'][number] {
	const statuses = keeper.statuses(hub.state.destinations, Date.now());
	return {
		event: hub.eventId,
		receiving: keeper.broadcast?.receiving ?? false,
		destinations: Object.fromEntries(statuses.map(({ id, phase }) => [id, phase])),
		recording: keeper.recording.phase,
		engine: hub.report,
	};
}
