/** Composition root of the server: opened once, used by the routes and the WebSockets, closed in order. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { batchOf } from '../core/show/command.ts';
import { pageFor } from './access/devices.ts';
import { Access } from './access/access.ts';
import { alignDestinations, followDestinations } from './access/destination-form.ts';
import { SavedDestinations, savedOf } from './access/saved-destinations.ts';
import { keyedHash, openKeyFile } from './access/secrets.ts';
import { codeOf } from './access/tokens.ts';
import { Backups, mayBackUp } from './backup/backups.ts';
import type { Bivvo, Health } from './bivvo.ts';
import { OrganisationSettings } from './access/settings.ts';
import { Bundles } from './bundle/bundles.ts';
import { Handovers } from './broadcast/handovers.ts';
import { BroadcastKeeper } from './broadcast/keeper.ts';
import { Reach } from './broadcast/reach.ts';
import type { Config } from './config.ts';
import { openDatabase, type Db } from './db/database.ts';
import { beginningIn, DEMO_EVENT, seedDemo } from './demo.ts';
import { MediaLibrary } from './files/media-library.ts';
import { FinishedFolder } from './files/finished-files.ts';
import { folderId } from './files/folder-id.ts';
import { ObjectStore } from './files/object-store.ts';
import { OwnRecordings } from './files/own-recordings.ts';
import { RecordingFolders } from './files/recording-folders.ts';
import { Recordings } from './files/recordings.ts';
import { Stills } from './files/stills.ts';
import { relayServers } from './guests/relay.ts';
import { SignIns } from './hosts/sign-ins.ts';
import { CameraKeys } from './ingest/camera-keys.ts';
import { Cameras } from './ingest/cameras.ts';
import { EventDirectory } from './live/directory.ts';
import { EventLog, FiguresLog } from './live/event-log.ts';
import { Hub } from './live/hub.ts';
import { Journal } from './live/journal.ts';
import { LineChecks, type Knows } from './live/line-checks.ts';
import { mediaUses } from './live/media-uses.ts';
import { Room } from './live/room.ts';
import { Sockets } from './live/sockets.ts';
import { UplinkTickets } from './live/uplink-tickets.ts';
import { log } from './log.ts';
import type { Cluster } from './nodes/cluster.ts';
import type { Fence } from './nodes/fence.ts';
import { Leases } from './nodes/leases.ts';
import { News } from './nodes/news.ts';
import { FREE, TAKEN, TakeOver, whenTaken } from './nodes/take-over.ts';
import { Webhooks } from './programs/webhooks.ts';
import { Templates } from './templates/templates.ts';
import { SongLibrary } from './words/song-library.ts';
import { HlsPlaces } from './hls/hls-places.ts';
import { WatchPages } from './watch/watch-pages.ts';

interface Options {
	/** How long an event stays open in which nothing happens. */
	idleMs?: number;
	/** None on a server of one node. */
	cluster?: Cluster | null;
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
	for (const folder of [config.dataFolder, config.sharedFolder]) await mkdir(folder, { recursive: true });
	const { cluster = null } = options;
	const isOneOfSeveral = cluster !== null;
	const database = await openDatabase(config.databaseUrl, config.migrationsFolder, { isOneOfSeveral });
	const { db } = database;
	const news = new News(cluster?.bus ?? null, config.organisation);
	const key = await openKeyFile(config.sharedFolder);
	const settings = await OrganisationSettings.open(db, news);
	const reach = new Reach(() => ({ loopback: config.reachesLoopback, local: settings.now.reachesLocal }));
	const signIns = await SignIns.open(db, key, reach, news);
	const destinations = new SavedDestinations(db, key, reach, signIns, news);
	await destinations.bindAll();
	const access = await Access.open(db, key, {
		...{ ...config, news, redis: cluster?.bus.redis, onSetUpCode: sayCode },
		...(cluster && {
			setUpCode: (round: number) => codeOf(Buffer.from(keyedHash(key, `set-up ${round}`), 'base64url')),
		}),
	});
	// Without them nobody can rehearse; all else goes on.
	const [rehearsals, watched] = (await Promise.all(
		['Nobody can rehearse', 'Nobody can watch on a page of one’s own'].map((why) =>
			HlsPlaces.open().catch((error: unknown) => {
				log.error({ err: error }, why);
				return null;
			}),
		),
	)) as [HlsPlaces | null, HlsPlaces | null];
	const recordings = await openRecordings(config, db, settings, isOneOfSeveral);
	// Whatever else the database is asked: leases are renewed in time.
	const renewing = cluster && (await openDatabase(config.databaseUrl, null, { connections: 1, isOneOfSeveral }));
	const leases = cluster && renewing ? new Leases(renewing.db, cluster.node) : null;

	const isOwn = (eventId: string) => leases?.holds(eventId) ?? true;
	const watch = new WatchPages(db, key, destinations, recordings, watched, news, isOwn);
	await watch.open();
	destinations.onChange = () => watch.refresh();

	const webhooks = await Webhooks.open(db, key, reach, news);
	const usedMedia = async () => new Set(Object.keys(await mediaUses(db, events)));
	const media = new MediaLibrary(db, path.join(config.sharedFolder, 'media'), usedMedia);

	const figures = new FiguresLog(db);

	async function openRoom(asked: string, fence: Fence): Promise<Room | null> {
		const opened = await Journal.open(db, asked, fence);
		if (!opened) return null;
		const { eventId } = opened.stored;
		const hub = new Hub(opened.stored, opened.journal, (client) => keyedHash(key, `lease ${eventId} ${client}`));
		const makeKeeper = (...told: [() => void, () => void]) =>
			new BroadcastKeeper(
				eventId,
				recordings,
				destinations,
				{ rehearsals, watched, watch },
				fence && new Handovers(db, eventId, fence),
				...told,
			);
		const iceServers = (guestId: string) => relayServers(config.relay, guestId, Date.now());
		const room = new Room(
			hub,
			makeKeeper,
			new EventLog(db, eventId, figures, fence),
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
	if (leases && cluster) {
		leases.mayGoOn = () => cluster.isDatabaseGone();
		leases.isGrace = () => cluster.registry.isGrace;
		leases.begin();
	}
	const node = cluster &&
		leases && {
			leases,
			emptying: () => cluster.emptying,
			mayTake: () => cluster.mayTake,
			given: () => cluster.bus.publish(FREE, {}),
			took: (eventId: string) => cluster.bus.publish(TAKEN, { eventId }),
			whenTaken: (eventId: string) => whenTaken(cluster.bus, eventId),
		};
	const events = new EventDirectory(db, openRoom, node, options.idleMs);
	destinations.follow(async () => {
		await watch.refresh();
		const saved = await destinations.list();
		for (const room of await events.open()) await followDestinations(room, saved);
	});
	const isQuiet = leases
		? () => mayBackUp(db, leases)
		: async () => (await events.open()).every(({ keeper }) => keeper.broadcast === null);
	const backups = new Backups(config.databaseUrl, path.join(config.sharedFolder, 'backups'), isQuiet);
	void backups.look(Date.now());
	const takeOver = cluster && renewing ? new TakeOver(renewing.db, events, leases!, cluster) : null;
	if (!cluster) await events.openDue();
	const aboutGuest = async (eventId: string, guestId: string) => {
		const { guests, broadcast } = (await events.owner(eventId)).hub.state.live;
		const known = guests.find(({ id }) => id === guestId) ?? access.links.get(guestId);
		return { name: known?.name ?? '', broadcastId: broadcast?.id ?? null };
	};
	const ownRecordings = new OwnRecordings(path.join(config.dataFolder, 'guests'), recordings, aboutGuest);
	const cameras = new Cameras(await CameraKeys.open(db, key, news), cluster?.cameraRelay(config.organisation) ?? null);
	const uplinkTickets = new UplinkTickets(config.node?.publicUrl ?? null);
	const sockets = new Sockets(events, access, cameras, uplinkTickets, (who) =>
		relayServers(config.relay, who, Date.now()),
	);
	const stills = new Stills(path.join(config.sharedFolder, 'files'));
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
		leases,
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
		uplinkTickets,
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
			// Of several nodes another one has each event first, and pages follow it there.
			if (!cluster) sockets.close();
			await takeOver?.close();
			await events.close();
			sockets.close();
			cameras.close();
			signIns.close();
			webhooks.close();
			await renewing?.close();
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

/** Of several nodes each writes in its own data folder, and hands over what is whole. */
async function openRecordings(
	config: Config,
	db: Db,
	settings: OrganisationSettings,
	isOneOfSeveral: boolean,
): Promise<Recordings> {
	const own = path.join(config.dataFolder, 'recordings');
	if (!isOneOfSeveral) return new Recordings(db, new RecordingFolders(own, () => settings.now));
	const shared = path.join(config.sharedFolder, 'recordings');
	const id = await folderId(config.dataFolder);
	const { objects } = config;
	const finished = objects
		? new ObjectStore({
				...objects,
				prefix: [objects.prefix, config.organisation].filter((part) => part !== '').join('/'),
			})
		: new FinishedFolder(() => settings.now.recordingsFolder || shared);
	const folders = new RecordingFolders(own, () => {
		const { recordingsFolder, earlierFolders } = settings.now;
		const earlier = [recordingsFolder, shared, ...earlierFolders].filter((folder) => folder !== '');
		return { recordingsFolder: '', earlierFolders: earlier };
	});
	return new Recordings(db, folders, { id, finished });
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
