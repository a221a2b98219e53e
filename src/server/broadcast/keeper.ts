/** Follows the show: begins a broadcast when the show says so, ends it when the show says so. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { dequal } from 'dequal/lite';
import { SOUND_KBPS, type Rendition } from '../../core/delivery/rates.ts';
import { planTracks, trackKbps, hasRoomFor, type Track } from '../../core/show/delivery/tracks.ts';
import { planDelivery } from '../../core/show/delivery/delivery.ts';
import {
	idleStatus,
	type DestinationStatus,
	type RecordingStatus,
	type ViewerMessage,
} from '../../core/show/messages.ts';
import { isOnAir, isRehearsal, type Destination, type ShowState } from '../../core/show/state.ts';
import type { SavedDestinations } from '../access/saved-destinations.ts';
import type { NewRecording, Recordings } from '../files/recordings.ts';
import { log } from '../log.ts';
import { Broadcast } from './broadcast.ts';
import type { PublishOrder } from './connection.ts';
import type { Handovers } from './handovers.ts';
import { Reach } from './reach.ts';
import { recordingRows } from './file-names.ts';
import { HlsPlaces } from '../hls/hls-places.ts';
import { SMALL, type WatchPages } from '../watch/watch-pages.ts';

const NOT_RECORDING = { phase: 'off', file: '', bytes: 0, fault: null } as const;
const MOST_VIEWER_MESSAGES = 200;
/** Time for which a disk that was full must have had room before the program is recorded again, milliseconds. */
const ROOM_FOR_MS = 6000;

/** Where this server receives what it sends itself; null where it cannot. */
interface OwnPlaces {
	rehearsals: HlsPlaces | null;
	watched: HlsPlaces | null;
	watch: WatchPages;
}

export class BroadcastKeeper {
	#eventId: string;
	#recordings: Recordings;
	#destinations: SavedDestinations;
	#own: OwnPlaces;
	#changed: () => void;
	#heldTooLong: () => void;
	#broadcast: Broadcast | null = null;
	/** Where it is recorded. */
	#folder = '';
	/** What is being written, the program's file first. */
	#rows: NewRecording[] = [];
	#tracks: readonly Track[] = [];
	/** Rates of the program's file and of all that is recorded, kbit/s, as they are or will be. */
	#fileKbps = { program: 0, all: 0 };
	#tracksStopped = false;
	#state: ShowState | null = null;
	/** Since when a program that is not recorded for want of room could be, milliseconds since 1970. */
	#roomSince = 0;
	/** Beginning and ending happen one after another. */
	#queue: Promise<void> = Promise.resolve();

	readonly #handovers: Handovers | null;

	/**
	 * @param handovers what is kept for other nodes; null on a server of one
	 * @param changed told when what `statuses` and `recording` say has changed
	 * @param heldTooLong told when the program has been away for as long as it may be
	 */
	constructor(
		eventId: string,
		recordings: Recordings,
		destinations: SavedDestinations,
		own: OwnPlaces,
		handovers: Handovers | null,
		changed: () => void,
		heldTooLong: () => void,
	) {
		this.#handovers = handovers;
		this.#eventId = eventId;
		this.#recordings = recordings;
		this.#destinations = destinations;
		this.#own = own;
		this.#changed = changed;
		this.#heldTooLong = heldTooLong;
	}

	/** The broadcast that packets belong to, or null. */
	get broadcast(): Broadcast | null {
		return this.#broadcast;
	}

	/** Brings what is sent in line with the show; called after each command, and once at the start. */
	follow(state: ShowState): void {
		this.#state = state;
		const wanted = isOnAir(state) ? state.live.broadcast!.id : null;
		const program = (renditionsOf(state)[0]?.kbps ?? 0) + SOUND_KBPS;
		const tracks = isOnAir(state) ? state.live.broadcast!.tracks : planTracks(state.setup);
		this.#fileKbps = { program, all: tracks.reduce((sum, track) => sum + trackKbps(track), program) };
		this.#queue = this.#queue
			.then(async () => {
				if (this.#broadcast && this.#broadcast.id !== wanted) await this.#end(this.#broadcast);
				if (wanted && !this.#broadcast) await this.#begin(wanted, state);
			})
			.catch((error: unknown) =>
				log.error({ event: this.#eventId, err: error }, 'The broadcast could not follow the show'),
			);
	}

	async #begin(id: string, state: ShowState): Promise<void> {
		const renditions = await Promise.all(
			renditionsOf(state).map(async ({ kbps, destinationIds }) => {
				const destinations = state.setup.destinations.filter((each) => destinationIds.includes(each.id));
				return { kbps, orders: await Promise.all(destinations.map((each) => this.#orderOn(state, each))) };
			}),
		);
		if (!isRehearsal(state)) addSmall(renditions, state);
		const { eventId } = state;
		const folder = await this.#recordings.placeFor(eventId);
		this.#folder = folder;
		const startedAt = Date.now();
		this.#tracks = state.live.broadcast!.tracks;
		this.#tracksStopped = false;
		const handover = (await this.#handovers?.of(id)) ?? null;
		this.#rows = state.setup.delivery.records ? recordingRows(state, id, startedAt, handover !== null) : [];
		const fileOf = (i: number) => path.join(folder, this.#rows[i]!.file);
		this.#broadcast = new Broadcast({
			id,
			renditions,
			holdMs: state.setup.delivery.holdMinutes * 60_000,
			heldTooLong: this.#heldTooLong,
			handover,
			introduced: (kept) => this.#handovers?.keep(id, kept),
			recordingFile: this.#rows.length > 0 ? fileOf(0) : null,
			tracks: this.#rows.slice(1).map((_, i) => ({ track: this.#tracks[i]!, file: fileOf(i + 1) })),
			changed: this.#changed,
		});
		this.#changed();
		if (this.#rows.length > 0) await this.#recordings.begin(this.#rows, this.#handovers?.fence);
	}

	async #end(broadcast: Broadcast): Promise<void> {
		await broadcast.end();
		await Promise.all(broadcast.publishers.map((publisher) => publisher.conclude()));
		this.#broadcast = null;
		this.#changed();
		void this.#handovers?.forget();
		// The next broadcast does not wait for that.
		void this.#finish(this.#rows.splice(0), broadcast.beganAt);
	}

	async #finish(rows: readonly NewRecording[], beganAt: number | null): Promise<void> {
		const failed = (error: unknown) => log.warn({ event: this.#eventId, err: error }, 'A recording has no end yet');
		for (const { id, startedAt } of rows) {
			// One that was begun in the middle has a beginning of its own.
			const from = beganAt !== null && startedAt <= beganAt ? beganAt : null;
			await this.#recordings.finish(this.#eventId, id, from).catch(failed);
		}
	}

	/** Brings all figures up to date; called about once a second. */
	measure(now: number): void {
		const broadcast = this.#broadcast;
		if (!broadcast) return;
		broadcast.measure(now);
		const { roomBytes } = this.#recordings;
		if (!broadcast.diskFull || !hasRoomFor(roomBytes, this.#fileKbps.program)) this.#roomSince = now;
		if (now - this.#roomSince >= ROOM_FOR_MS || this.#isDiskGone) void this.#recordAgain(broadcast, now);
		if (this.#tracksStopped || this.#tracks.length === 0 || hasRoomFor(roomBytes, this.#fileKbps.all)) return;
		this.#tracksStopped = true;
		log.warn({ event: this.#eventId }, 'The disk is nearly full; only the program goes on being recorded');
		void broadcast.tracks.stop({ code: 'diskNearlyFull', about: {} });
	}

	/** Whether what is recorded now lies on a disk that is gone. */
	get #isDiskGone(): boolean {
		const folder = this.#recordings.folderOf(this.#eventId);
		return this.#rows.length > 0 && this.#recordings.isElsewhere && this.#folder !== folder;
	}

	/**
	 * Somebody has made room on the disk, or it is gone and there is another one: the program goes on, and on another disk
	 * all that is recorded beside it.
	 */
	async #recordAgain(broadcast: Broadcast, now: number): Promise<void> {
		this.#roomSince = now;
		const isGone = this.#isDiskGone;
		const why = isGone ? 'The disk is gone' : 'There is room again';
		const folder = this.#recordings.folderOf(this.#eventId);
		this.#folder = folder;
		// Where that fails, the file says so.
		await mkdir(folder, { recursive: true }).catch(() => {});
		if (this.#broadcast !== broadcast) return;
		const [program, ...tracks] = recordingRows(this.#state!, broadcast.id, now, true);
		log.info({ event: this.#eventId, file: program!.file }, `${why}; the program is recorded in a new file`);
		// What was ended for want of room, or has another size, stays as it is.
		const { statuses } = broadcast.tracks;
		const goesOn = tracks.map((_, i) => isGone && !this.#tracksStopped && statuses[i]?.fault?.code !== 'otherSize');
		const rows = [program!, ...tracks.filter((_, i) => goesOn[i])];
		this.#rows.push(...rows);
		broadcast.recordAgain(
			path.join(folder, program!.file),
			tracks.map(({ file }, i) => (goesOn[i] ? { track: this.#tracks[i]!, file: path.join(folder, file) } : null)),
		);
		this.#recordings
			.begin(rows, this.#handovers?.fence)
			.catch((error: unknown) => log.warn({ event: this.#eventId, err: error }));
	}

	/** Where a destination's stream goes in this broadcast: a rehearsal's to a private place of its own. */
	async #orderOn(state: ShowState, destination: Destination): Promise<PublishOrder> {
		const order = await this.orderFor(destination);
		if (!isRehearsal(state)) return order;
		const nothing = { userName: '', password: '', token: '', accountUrl: null, signed: null, account: null };
		return {
			...order,
			...nothing,
			address: this.#own.rehearsals?.url ?? '',
			reach: Reach.everywhere,
			key: HlsPlaces.keyOf(this.#eventId, destination.id),
		};
	}

	/** A destination with its secrets. */
	async orderFor(destination: Destination): Promise<PublishOrder> {
		const { id, name, address, userName, accountUrl, hostBroadcast: broadcast } = destination;
		const { reach, signIns } = this.#destinations;
		if (destination.watch)
			return {
				...{ id, name, userName: '', password: '', token: '', accountUrl: null, reach: Reach.everywhere },
				address: this.#own.watched?.url ?? '',
				key: HlsPlaces.keyOf(this.#eventId, id),
				account: this.#own.watch.accountOf(id),
			};
		const signed = destination.signed && { ...destination.signed, broadcast };
		const secret = await this.#destinations.secretOf(id);
		return { id, name, address, userName, accountUrl, reach, signed, signIns, ...secret };
	}

	/** What viewers have written at all destinations, the newest last. */
	get viewerMessages(): ViewerMessage[] {
		const all = (this.#broadcast?.publishers ?? []).flatMap(({ order: { id: destinationId }, messages }) =>
			messages.map(({ id, at, from, text }) => ({ id: `${destinationId}/${id}`, destinationId, at, from, text })),
		);
		return all.toSorted((a, b) => a.at - b.at).slice(-MOST_VIEWER_MESSAGES);
	}

	/** Writes to viewers at each destination whose host takes that. */
	post(text: string): void {
		for (const publisher of this.#broadcast?.publishers ?? []) void publisher.post(text);
	}

	/** How each destination of the show goes. */
	statuses(destinations: readonly Destination[], now: number): DestinationStatus[] {
		const publishers = this.#broadcast?.publishers ?? [];
		return destinations.map(({ id }) => publishers.find(({ order }) => order.id === id)?.status ?? idleStatus(id, now));
	}

	get recording(): RecordingStatus {
		const { roomBytes } = this.#recordings;
		const { program, all } = this.#fileKbps;
		const roomS = roomBytes === null ? null : (roomBytes * 8) / ((this.#tracksStopped ? program : all) * 1000);
		const tracks = (this.#broadcast?.tracks.statuses ?? []).map((status, i) => ({
			id: this.#tracks[i]!.id,
			...status,
		}));
		const elsewhere = this.#recordings.isElsewhere;
		return { ...(this.#broadcast?.recording ?? NOT_RECORDING), roomS, elsewhere, tracks };
	}

	/** A destination's address, login or key was changed: what is sent there now begins anew with it. */
	async renew(destination: Destination, state: ShowState): Promise<void> {
		this.#broadcast?.renew(await this.#orderOn(state, destination));
	}

	/** The same, but only where it leads elsewhere now, or opens with something else. */
	async renewChanged(destination: Destination, state: ShowState): Promise<void> {
		const order = this.#broadcast?.publisherOf(destination.id)?.order;
		if (!order) return;
		const now = await this.#orderOn(state, destination);
		if (!dequal(whereTo(order), whereTo(now))) this.#broadcast?.renew(now);
	}

	/** Ends what is being sent because the server stops; the show stays on air and goes on at the next start. */
	async close(): Promise<void> {
		await this.#queue;
		const broadcast = this.#broadcast;
		if (!broadcast) return;
		await broadcast.end();
		await this.#finish(this.#rows.splice(0), broadcast.beganAt);
	}

	/**
	 * Another node owns the event: what is sent is let go of at once, and what was recorded here is finished.
	 */
	async abandon(): Promise<void> {
		const cut = this.#broadcast?.cut();
		this.#state = null;
		await cut;
		await this.#queue;
		// One that was just beginning.
		await this.#broadcast?.cut();
		const beganAt = this.#broadcast?.beganAt ?? null;
		this.#broadcast = null;
		void this.#finish(this.#rows.splice(0), beganAt);
	}

	/** Finishes what was being written when the server was stopped the hard way. */
	finishLeftOver(): void {
		const failed = (error: unknown) => log.warn({ event: this.#eventId, err: error }, 'A recording has no end yet');
		this.#queue = this.#queue.then(() => {
			const written = new Set(this.#rows.map(({ id }) => id));
			void this.#recordings.finishLeftOver(this.#eventId, written).catch(failed);
		});
	}
}

/** How it is, or would be, encoded. A broadcast that was begun by a former version tells nothing of it. */
function renditionsOf(state: ShowState): readonly Rendition[] {
	const kept = isOnAir(state) ? state.live.broadcast!.renditions : [];
	return kept.length > 0 ? kept : planDelivery(state).renditions;
}

/** Where an order leads, and what opens it there. */
function whereTo({ address, key, userName, password, token }: PublishOrder) {
	return { address, key, userName, password, token };
}

/** A watch page gets a smaller picture as well, where one is encoded anyway: for viewers whose line is weak. */
function addSmall(renditions: { kbps: number; orders: PublishOrder[] }[], { setup }: ShowState): void {
	const smallest = renditions.toSorted((a, b) => a.kbps - b.kbps)[0];
	for (const { id, watch } of setup.destinations) {
		const order = watch && renditions.flatMap(({ orders }) => orders).find((each) => each.id === id);
		if (!order || !smallest || smallest.orders.includes(order)) continue;
		smallest.orders.push({ ...order, id: id + SMALL, key: order.key + SMALL, account: null });
	}
}
