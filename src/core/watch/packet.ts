/**
 * Framing of views on their way from the page that makes them to those who watch: one WebSocket message is one picture.
 *
 *   byte 0  'V'     byte 1  flags (1: stands alone, 2: no other needs it)     bytes 2 and 3  zero
 *   bytes 4 to 7  order of the scenes that it shows (see `orderMark`), big-endian; 0 where it shows no wall
 *   bytes 8 to 15  when it was made, milliseconds since 1970 by the server's clock, IEEE 754, big-endian
 *   then a frame of VP8 (RFC 6386)
 */

/** A larger one is no picture of ours. */
export const MOST_VIEW_BYTES = 400_000;

const MAGIC = 0x56;
const HEADER_BYTES = 16;
const [STANDS_ALONE, CAN_BE_LEFT_OUT] = [1, 2];

export interface ViewPacket {
	/** True when it needs no other. */
	key: boolean;
	/** True when no other needs it: a slow reader goes without. */
	canBeLeftOut: boolean;
	/** When it was made, milliseconds since 1970 by the server's clock. */
	at: number;
	/** Of the scenes on a wall, by `orderMark`. */
	order: number;
	data: Uint8Array<ArrayBuffer>;
}

export function encodeView({ key, canBeLeftOut, at, order, data }: ViewPacket): Uint8Array<ArrayBuffer> {
	const packet = new Uint8Array(HEADER_BYTES + data.length);
	packet[0] = MAGIC;
	packet[1] = (key ? STANDS_ALONE : 0) | (canBeLeftOut ? CAN_BE_LEFT_OUT : 0);
	const view = new DataView(packet.buffer);
	view.setUint32(4, order);
	view.setFloat64(8, at);
	packet.set(data, HEADER_BYTES);
	return packet;
}

/** @returns null for what is no picture of a view */
export function decodeView(packet: Uint8Array<ArrayBuffer>): ViewPacket | null {
	const isOne = packet.length > HEADER_BYTES && packet.length <= MOST_VIEW_BYTES && packet[0] === MAGIC;
	if (!isOne || packet[1]! > (STANDS_ALONE | CAN_BE_LEFT_OUT)) return null;
	const view = new DataView(packet.buffer, packet.byteOffset);
	return {
		key: (packet[1]! & STANDS_ALONE) !== 0,
		canBeLeftOut: (packet[1]! & CAN_BE_LEFT_OUT) !== 0,
		at: view.getFloat64(8),
		order: view.getUint32(4),
		data: packet.subarray(HEADER_BYTES),
	};
}

/**
 * What a reader is sent who may be slow: everything, or without what can be left out, or nothing until a picture that
 * stands alone.
 */
export class Reading {
	#waitsForKey = true;

	/**
	 * @param waiting bytes that have not left for this reader yet
	 * @returns whether this picture is sent
	 */
	takes({ key, canBeLeftOut }: Pick<ViewPacket, 'key' | 'canBeLeftOut'>, waiting: number): boolean {
		if (waiting > STUCK_BYTES) this.#waitsForKey = true;
		if (this.#waitsForKey && (!key || waiting > SLOW_BYTES)) return false;
		this.#waitsForKey = false;
		return !canBeLeftOut || waiting < SLOW_BYTES;
	}
}

/** A third of a second, and more than a second, of the picture. */
const SLOW_BYTES = 20_000;
const STUCK_BYTES = 80_000;
