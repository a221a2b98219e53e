/**
 * What is kept of each broadcast on air for another node, which follows when this one is gone: where the line of time begins,
 * how sound and pictures are encoded, and the pictures of the holding card.
 */
import { and, eq } from 'drizzle-orm';
import { ProtocolError } from '../../core/delivery/bytes.ts';
import { decodeUplink, encodeUplink, type UplinkPacket } from '../../core/delivery/uplink.ts';
import type { Db } from '../db/database.ts';
import { handovers } from '../db/schema.ts';
import { log } from '../log.ts';
import { FencedOff, writeFenced, type Fence } from '../nodes/fence.ts';

interface Row {
	broadcastId: string;
	beganAt: number;
	introduced: Uint8Array;
}

export interface Handover {
	/** Where the line begins, milliseconds since 1970. */
	beganAt: number;
	introduced: readonly UplinkPacket[];
}

/** What the database did not take is written again. */
const AGAIN_MS = 1000;
const LENGTH_BYTES = 4;
/** The database takes 16 MB at once. A card of several encodings has some hundred kilobytes. */
const MOST_BYTES = 12e6;

export class Handovers {
	readonly #db: Db;
	readonly #eventId: string;
	/** What is written of the broadcast is written under it. */
	readonly fence: Fence;
	#keeping: Promise<void> = Promise.resolve();
	/** What is to be kept, until it is forgotten. */
	#newest: Row | null = null;

	constructor(db: Db, eventId: string, fence: Fence) {
		this.#db = db;
		this.#eventId = eventId;
		this.fence = fence;
	}

	/** What there is of a broadcast; null where nobody has sent anything of it yet. */
	async of(broadcastId: string): Promise<Handover | null> {
		const [row] = await this.#db
			.select()
			.from(handovers)
			.where(and(eq(handovers.eventId, this.#eventId), eq(handovers.broadcastId, broadcastId)));
		if (!row) return null;
		try {
			return { beganAt: row.beganAt, introduced: unpacked(row.introduced) };
		} catch (error) {
			// Of another version: the desk introduces all of it again.
			if (!(error instanceof ProtocolError)) throw error;
			return { beganAt: row.beganAt, introduced: [] };
		}
	}

	/** Nothing is gone on with any more. */
	async forget(): Promise<void> {
		this.#newest = null;
		await this.#keeping;
		await writeFenced(this.#db, this.fence, (db) =>
			db.delete(handovers).where(eq(handovers.eventId, this.#eventId)),
		).catch((error: unknown) =>
			log.warn({ event: this.#eventId, err: error }, 'What another node could go on with stays'),
		);
	}

	/** Keeps it, in place of what was kept before. */
	keep(broadcastId: string, { beganAt, introduced }: Handover): void {
		const bytes = packed(introduced);
		this.#newest = { broadcastId, beganAt, introduced: bytes.length > MOST_BYTES ? new Uint8Array() : bytes };
		this.#write(this.#newest);
	}

	#write(row: Row): void {
		this.#keeping = this.#keeping
			.then(() =>
				writeFenced(this.#db, this.fence, async (db) => {
					await db
						.insert(handovers)
						.values({ eventId: this.#eventId, ...row })
						.onDuplicateKeyUpdate({ set: row });
				}),
			)
			.catch((error: unknown) => {
				if (error instanceof FencedOff) return;
				log.warn({ event: this.#eventId, err: error }, 'Another node could not go on with the holding card yet');
				setTimeout(() => this.#newest === row && this.#write(row), AGAIN_MS).unref();
			});
	}
}

/** Packets one after another, each behind its length. */
export function packed(packets: readonly UplinkPacket[]): Uint8Array {
	const parts = packets.map(encodeUplink).flatMap((bytes) => {
		const length = new Uint8Array(LENGTH_BYTES);
		new DataView(length.buffer).setUint32(0, bytes.length);
		return [length, bytes];
	});
	return Buffer.concat(parts);
}

/** @throws {ProtocolError} when they are torn, or of another version */
export function unpacked(bytes: Uint8Array): UplinkPacket[] {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const packets: UplinkPacket[] = [];
	for (let at = 0; at < bytes.length;) {
		const length = at + LENGTH_BYTES <= bytes.length ? view.getUint32(at) : Infinity;
		at += LENGTH_BYTES;
		if (at + length > bytes.length) throw new ProtocolError('The packets are torn');
		packets.push(decodeUplink(bytes.subarray(at, at + length)));
		at += length;
	}
	return packets;
}
