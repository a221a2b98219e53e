/** Follows the show: begins a broadcast when the show says so, ends it when the show says so. */
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { SOUND_KBPS, type Rendition } from '../../core/delivery/rates.ts';
import { planDelivery } from '../../core/show/delivery.ts';
import { idleStatus, type DestinationStatus, type RecordingStatus } from '../../core/show/live.ts';
import { isOnAir, type Destination, type ShowState } from '../../core/show/state.ts';
import type { Secrets } from '../access/secrets.ts';
import { recordingId, type Recordings } from '../files/recordings.ts';
import { log } from '../log.ts';
import { Broadcast } from './broadcast.ts';
import type { PublishOrder } from './connection.ts';

const NOT_RECORDING = { phase: 'off', file: '', bytes: 0, reason: '' } as const;

export class BroadcastKeeper {
	#eventId: string;
	#recordings: Recordings;
	#secrets: Secrets;
	#changed: () => void;
	#heldTooLong: () => void;
	#broadcast: Broadcast | null = null;
	/** Row of the recording being written, or null. */
	#recordingId: string | null = null;
	/** Rate of the program's file, kbit/s, as it is or will be. */
	#fileKbps = 0;
	/** Beginning and ending happen one after another. */
	#queue: Promise<void> = Promise.resolve();

	/**
	 * @param changed told when what `statuses` and `recording` say has changed
	 * @param heldTooLong told when the program has been away for as long as it may be
	 */
	constructor(eventId: string, recordings: Recordings, secrets: Secrets, changed: () => void, heldTooLong: () => void) {
		this.#eventId = eventId;
		this.#recordings = recordings;
		this.#secrets = secrets;
		this.#changed = changed;
		this.#heldTooLong = heldTooLong;
	}

	/** The broadcast that packets belong to, or null. */
	get broadcast(): Broadcast | null {
		return this.#broadcast;
	}

	/** Brings what is sent in line with the show; called after each command, and once at the start. */
	follow(state: ShowState): void {
		const wanted = isOnAir(state) ? state.broadcast!.id : null;
		this.#fileKbps = (renditionsOf(state)[0]?.kbps ?? 0) + SOUND_KBPS;
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
				const destinations = state.destinations.filter((each) => destinationIds.includes(each.id));
				return { kbps, orders: await Promise.all(destinations.map((each) => this.orderFor(each))) };
			}),
		);
		const { eventId } = state;
		const folder = this.#recordings.folderOf(eventId);
		await mkdir(folder, { recursive: true });
		const startedAt = Date.now();
		const { records } = state.delivery;
		const file = `${fileNameOf(state.title, startedAt)}-program.mp4`;
		this.#broadcast = new Broadcast({
			id,
			renditions,
			holdMs: state.delivery.holdMinutes * 60_000,
			heldTooLong: this.#heldTooLong,
			recordingFile: records ? path.join(folder, file) : null,
			changed: this.#changed,
		});
		this.#recordingId = records ? recordingId(id, startedAt) : null;
		this.#changed();
		if (this.#recordingId) await this.#recordings.begin(eventId, id, startedAt, file);
		void this.#recordings
			.finishLeftOver(eventId, this.#recordingId)
			.catch((error: unknown) => log.warn({ err: error }));
	}

	async #end(broadcast: Broadcast): Promise<void> {
		await broadcast.end();
		this.#broadcast = null;
		this.#changed();
		if (!this.#recordingId) return;
		// The next broadcast does not wait for that.
		const failed = (error: unknown) => log.warn({ event: this.#eventId, err: error }, 'A recording has no end yet');
		void this.#recordings.finish(this.#eventId, this.#recordingId, broadcast.beganAt).catch(failed);
	}

	/** A destination with its secrets. */
	async orderFor({ id, name, address, userName, accountUrl }: Destination): Promise<PublishOrder> {
		return { id, name, address, userName, accountUrl, ...(await this.#secrets.get(this.#eventId, id)) };
	}

	/** How each destination of the show goes. */
	statuses(destinations: readonly Destination[], now: number): DestinationStatus[] {
		const publishers = this.#broadcast?.publishers ?? [];
		return destinations.map(({ id }) => publishers.find(({ order }) => order.id === id)?.status ?? idleStatus(id, now));
	}

	get recording(): RecordingStatus {
		const { roomBytes } = this.#recordings;
		const roomS = roomBytes === null ? null : (roomBytes * 8) / (this.#fileKbps * 1000);
		return { ...(this.#broadcast?.recording ?? NOT_RECORDING), roomS };
	}

	/** A destination's address, login or key was changed: what is sent there now begins anew with it. */
	async renew(destination: Destination): Promise<void> {
		this.#broadcast?.renew(await this.orderFor(destination));
	}

	/** Ends what is being sent because the server stops; the show stays on air and goes on at the next start. */
	async close(): Promise<void> {
		await this.#queue;
		await this.#broadcast?.end();
	}
}

/** How it is, or would be, encoded. A broadcast that was begun by a former version tells nothing of it. */
function renditionsOf(state: ShowState): readonly Rendition[] {
	const kept = isOnAir(state) ? state.broadcast!.renditions : [];
	return kept.length > 0 ? kept : planDelivery(state).renditions;
}

/** A file name from what people typed: letters, digits and dashes only, with date and time. */
export function fileNameOf(title: string, at: number): string {
	const plain = title
		.normalize('NFKD')
		.replace(/\p{Mark}+/gu, '')
		.replace(/[^\p{Letter}\p{Number}]+/gu, '-')
		.replace(/[^\x20-\x7e]/g, '')
		.replace(/^-+|-+$/g, '')
		.toLowerCase()
		.slice(0, 60);
	const time = new Date(at).toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');
	return `${plain || 'event'}-${time}`;
}
