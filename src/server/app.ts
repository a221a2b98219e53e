/** Composition root of the server: opened once, used by the routes and the WebSockets, closed in order. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { alignDestinations } from './access/destination-form.ts';
import { SavedDestinations, savedOf } from './access/saved-destinations.ts';
import { openKeyFile } from './access/secrets.ts';
import type { Bivvo, Health } from './bivvo.ts';
import { BroadcastKeeper } from './broadcast/keeper.ts';
import type { Config } from './config.ts';
import { openDatabase } from './db/database.ts';
import { seedDemo } from './demo.ts';
import { Recordings } from './files/recordings.ts';
import { Stills } from './files/stills.ts';
import { EventDirectory } from './live/directory.ts';
import { EventLog } from './live/event-log.ts';
import { Hub } from './live/hub.ts';
import { Journal } from './live/journal.ts';
import { Room } from './live/room.ts';
import { Sockets } from './live/sockets.ts';
import { log } from './log.ts';
import { Rehearsals } from './rehearsal/rehearsals.ts';

/**
 * @param options.idleMs how long an event stays open in which nothing happens
 * @throws with a sentence for the operator when the database or the data folder cannot be used
 */
export async function openBivvo(config: Config, options: { idleMs?: number } = {}): Promise<Bivvo> {
	await mkdir(config.dataFolder, { recursive: true });
	const database = await openDatabase(config.databaseUrl, config.migrationsFolder);
	const { db } = database;
	const destinations = new SavedDestinations(db, await openKeyFile(config.dataFolder));
	// Without them nobody can rehearse; all else goes on.
	const rehearsals = await Rehearsals.open().catch((error: unknown) => {
		log.error({ err: error }, 'Nobody can rehearse');
		return null;
	});
	const recordings = new Recordings(db, path.join(config.dataFolder, 'recordings'));

	async function openRoom(asked: string): Promise<Room | null> {
		const opened = await Journal.open(db, asked);
		if (!opened) return null;
		const hub = new Hub(opened.stored, opened.journal);
		const { eventId } = hub;
		const makeKeeper = (...told: [() => void, () => void]) =>
			new BroadcastKeeper(eventId, recordings, destinations, rehearsals?.url ?? null, ...told);
		const room = new Room(hub, makeKeeper, new EventLog(db, eventId));
		await alignWithOrganisation(room);
		return room;
	}

	/** Another event may have changed a destination since this one was open. */
	async function alignWithOrganisation(room: Room): Promise<void> {
		const saved = await destinations.list();
		for (const known of room.hub.state.setup.destinations)
			if (!saved.some(({ id }) => id === known.id) && known.hasKey) await destinations.adopt(savedOf(known));
		await alignDestinations(room, saved);
	}

	const events = new EventDirectory(db, openRoom, options.idleMs);
	await events.openDue();
	const sockets = new Sockets(events);
	return {
		config,
		db,
		destinations,
		events,
		recordings,
		rehearsals,
		stills: new Stills(path.join(config.dataFolder, 'files')),
		upgrade: (request, socket, head) => sockets.upgrade(request, socket, head),
		async health() {
			const open = await events.open();
			return {
				database: (await database.answers()) ? 'ok' : 'lost',
				hub: { events: open.length, stored: open.every(({ hub }) => hub.journal.healthy) },
				broadcasts: open.flatMap(broadcastHealth),
			};
		},
		async seedDemo() {
			const { standInRtmpPort: rtmpPort, lineTestUrl } = config;
			const webUrl = lineTestUrl && new URL(lineTestUrl).origin;
			if (rtmpPort !== null) await seedDemo(db, destinations, { rtmpPort, webUrl });
		},
		async close() {
			sockets.close();
			await events.close();
			await rehearsals?.close();
			await recordings.close();
			await database.close();
		},
	};
}

/** Of a room that broadcasts now. */
function broadcastHealth({ hub, keeper }: Room): Health['broadcasts'] {
	if (!keeper.broadcast) return [];
	const statuses = keeper.statuses(hub.state.setup.destinations, Date.now());
	return [
		{
			event: hub.eventId,
			receiving: keeper.broadcast.receiving,
			destinations: Object.fromEntries(statuses.map(({ id, phase }) => [id, phase])),
			recording: keeper.recording.phase,
			engine: hub.report,
		},
	];
}
