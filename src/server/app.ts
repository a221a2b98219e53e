/** Composition root of the server: opened once, used by the routes and the WebSockets, closed in order. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { batchOf } from '../core/show/command.ts';
import { pageFor } from './access/devices.ts';
import { Access } from './access/access.ts';
import { alignDestinations } from './access/destination-form.ts';
import { SavedDestinations, savedOf } from './access/saved-destinations.ts';
import { keyedHash, openKeyFile } from './access/secrets.ts';
import { Backups } from './backup/backups.ts';
import type { Bivvo, Health } from './bivvo.ts';
import { OrganisationSettings } from './access/settings.ts';
import { Bundles } from './bundle/bundles.ts';
import { BroadcastKeeper } from './broadcast/keeper.ts';
import { Reach } from './broadcast/reach.ts';
import type { Config } from './config.ts';
import { openDatabase } from './db/database.ts';
import { beginningIn, DEMO_EVENT, seedDemo } from './demo.ts';
import { MediaLibrary } from './files/media-library.ts';
import { OwnRecordings } from './files/own-recordings.ts';
import { RecordingFolders } from './files/recording-folders.ts';
import { Recordings } from './files/recordings.ts';
import { Stills } from './files/stills.ts';
import { relayServers } from './guests/relay.ts';
import { SignIns } from './hosts/sign-ins.ts';
import { CameraKeys } from './ingest/camera-keys.ts';
import { Cameras } from './ingest/cameras.ts';
import { EventDirectory } from './live/directory.ts';
import { EventLog } from './live/event-log.ts';
import { Hub } from './live/hub.ts';
import { Journal } from './live/journal.ts';
import { LineChecks, type Knows } from './live/line-checks.ts';
import { mediaUses } from './live/media-uses.ts';
import { Room } from './live/room.ts';
import { Sockets } from './live/sockets.ts';
import { log } from './log.ts';
import { Webhooks } from './programs/webhooks.ts';
import { Templates } from './templates/templates.ts';
import { SongLibrary } from './words/song-library.ts';
import { HlsPlaces } from './hls/hls-places.ts';
import { WatchPages } from './watch/watch-pages.ts';

interface Options {
	/** How long an event stays open in which nothing happens. */
	idleMs?: number;
}

/** The code that makes the owner is for whoever reads this terminal, so it is in no log. */
function sayCode(code: string): void {
	// eslint-disable-next-line no-console -- it is for the terminal alone
	console.log(`\nNobody owns this Bivvo yet. Open /set-up on a page of it, and type this code: ${code}\n`);
}

/**
 * @throws with a sentence for the operator when the database or the data folder cannot be used
 */
export async function openBivvo(config: Config, options: Options = {}): Promise<Bivvo> {
	await mkdir(config.dataFolder, { recursive: true });
	const database = await openDatabase(config.databaseUrl, config.migrationsFolder);
	const { db } = database;
	const key = await openKeyFile(config.dataFolder);
	const settings = await OrganisationSettings.open(db);
	const reach = new Reach(() => ({ loopback: config.reachesLoopback, local: settings.now.reachesLocal }));
	const signIns = await SignIns.open(db, key, reach);
	const destinations = new SavedDestinations(db, key, reach, signIns);
	await destinations.bindAll();
	const access = await Access.open(db, key, { ...config, onSetUpCode: sayCode });
	// Without them nobody can rehearse; all else goes on.
	const [rehearsals, watched] = (await Promise.all(
		['Nobody can rehearse', 'Nobody can watch on a page of one’s own'].map((why) =>
			HlsPlaces.open().catch((error: unknown) => {
				log.error({ err: error }, why);
				return null;
			}),
		),
	)) as [HlsPlaces | null, HlsPlaces | null];
	const recordings = new Recordings(
		db,
		new RecordingFolders(path.join(config.dataFolder, 'recordings'), () => settings.now),
	);

	const watch = new WatchPages(db, key, destinations, recordings, watched);
	await watch.open();
	destinations.onChange = () => watch.refresh();

	const webhooks = await Webhooks.open(db, key, reach);
	const usedMedia = async () => new Set(Object.keys(await mediaUses(db, events)));
	const media = new MediaLibrary(db, path.join(config.dataFolder, 'media'), usedMedia);

	async function openRoom(asked: string): Promise<Room | null> {
		const opened = await Journal.open(db, asked);
		if (!opened) return null;
		const { eventId } = opened.stored;
		const hub = new Hub(opened.stored, opened.journal, (client) => keyedHash(key, `lease ${eventId} ${client}`));
		const makeKeeper = (...told: [() => void, () => void]) =>
			new BroadcastKeeper(eventId, recordings, destinations, { rehearsals, watched, watch }, ...told);
		const iceServers = (guestId: string) => relayServers(config.relay, guestId, Date.now());
		const room = new Room(
			hub,
			makeKeeper,
			new EventLog(db, eventId),
			iceServers,
			checksOf(eventId, opened.stored.facts),
		);
		room.onSent = (id) =>
			void destinations.noteSent(id).catch((err: unknown) => log.warn({ err }, 'When it was sent is not stored'));
		room.onGuestRemoved = (guestId) => void access.links.revoke(guestId);
		room.onTakenOver = ({ actor, address }) => access.audit.add('programTakenOver', actor, address, {}, eventId);
		room.onChange = (state) => watch.follow(state);
		watch.follow(room.hub.state);
		room.onHappened = (delivery) => webhooks.tell(eventId, delivery);
		room.onBroadcast = ({ actor, address }, code, about) => access.audit.add(code, actor, address, about, eventId);
		await alignWithOrganisation(room);
		return room;
	}

	/** What the rest of the server knows of an event, for its line check. */
	function checksOf(eventId: string, facts: unknown) {
		const knows: Knows = {
			devices: () =>
				access.devices
					.list()
					.filter((device) => device.eventId === eventId)
					.map(({ id, name, role, opens }) => ({ id, name, page: pageFor(role, opens) })),
			links: () =>
				access.links.of(eventId).map(({ id, name, role, expiresAt, usesLeft, uses }) => {
					return { id, name, isGuest: role === 'guest', expiresAt, usesLeft, uses };
				}),
			media: () => media.states(),
			keys: () => destinations.times(),
		};
		return ({ hub, guests, keeper }: Room) =>
			new LineChecks(db, eventId, facts, knows, {
				state: () => hub.state,
				guests: () => guests.list,
				roomS: () => keeper.recording.roomS,
				stored: () => hub.journal.healthy,
			});
	}

	/** Another event may have changed a destination since this one was open. */
	async function alignWithOrganisation(room: Room): Promise<void> {
		const saved = await destinations.list();
		for (const known of room.hub.state.setup.destinations)
			if (!saved.some(({ id }) => id === known.id) && known.hasKey) await destinations.adopt(savedOf(known));
		await alignDestinations(room, saved);
	}

	const songs = new SongLibrary(db);
	const events = new EventDirectory(db, openRoom, options.idleMs);
	const isQuiet = async () => (await events.open()).every(({ keeper }) => keeper.broadcast === null);
	const backups = new Backups(config.databaseUrl, path.join(config.dataFolder, 'backups'), isQuiet);
	void backups.look(Date.now());
	await events.openDue();
	const aboutGuest = async (eventId: string, guestId: string) => {
		const { guests, broadcast } = (await events.owner(eventId)).hub.state.live;
		const known = guests.find(({ id }) => id === guestId) ?? access.links.get(guestId);
		return { name: known?.name ?? '', broadcastId: broadcast?.id ?? null };
	};
	const ownRecordings = new OwnRecordings(path.join(config.dataFolder, 'guests'), recordings, aboutGuest);
	const cameras = new Cameras(await CameraKeys.open(db, key));
	const sockets = new Sockets(events, access, cameras, (who) => relayServers(config.relay, who, Date.now()));
	const stills = new Stills(path.join(config.dataFolder, 'files'));
	const templates = new Templates(db);
	const bundles = new Bundles(
		{ db, destinations, events, media, songs, stills, templates },
		path.join(config.dataFolder, 'incoming'),
	);
	await bundles.open();
	return {
		access,
		cameras,
		config,
		db,
		destinations,
		events,
		media,
		ownRecordings,
		recordings,
		rehearsals,
		watch,
		settings,
		songs,
		templates,
		bundles,
		webhooks,
		stills,
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
			const { standInRtmpPort: rtmpPort, lineTestUrl, standInsFolder, minutesToStart, demoDay: day } = config;
			const webUrl = lineTestUrl && new URL(lineTestUrl).origin;
			if (rtmpPort === null) return;
			const isNew = await seedDemo({
				db,
				destinations,
				media,
				songs,
				templates,
				standInsFolder,
				minutesToStart,
				day,
				standIn: { rtmpPort, webUrl },
			});
			if (isNew || minutesToStart === null) return;
			const { hub } = await events.owner(DEMO_EVENT);
			await hub.submitAsServer(batchOf(beginningIn(minutesToStart, hub.state)));
		},
		onFault(error) {
			log.error({ err: error }, 'Something failed that nobody has caught; the server goes on');
		},
		async close() {
			sockets.close();
			cameras.close();
			signIns.close();
			webhooks.close();
			await events.close();
			await Promise.all([rehearsals?.close(), watched?.close()]);
			media.close();
			await ownRecordings.close();
			await recordings.close();
			await backups.close();
			await access.close();
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
