/**
 * The plain RTMP handshake (section 5.2): version byte 3, 1536 bytes each way, and the peer's 1536 bytes echoed.
 */
import { concat, ProtocolError } from '../bytes.ts';

export const HANDSHAKE_BYTES = 1536;
/** Of them random: all but the time and the zeros. */
export const RANDOM_BYTES = HANDSHAKE_BYTES - 8;
const VERSION = 3;

/** C0 and C1 (or S0 and S1): the version, a zero time, zeros and 1528 random bytes given by the caller. */
export function hello(random: Uint8Array): Uint8Array {
	const bytes = new Uint8Array(1 + HANDSHAKE_BYTES);
	bytes[0] = VERSION;
	bytes.set(random.subarray(0, RANDOM_BYTES), 9);
	return bytes;
}

/** Waits for the peer's hello, then for its echo; bytes may be cut anywhere. */
export class HandshakeReader {
	#buffer: Uint8Array = new Uint8Array(0);

	/**
	 * @returns null while bytes are missing, else the peer's 1536 bytes (to be echoed) or, for `echo`, the echo,
	 * with what follows.
	 * @throws ProtocolError when the first byte is no version of RTMP.
	 */
	read(bytes: Uint8Array, expected: 'hello' | 'echo'): { block: Uint8Array; rest: Uint8Array } | null {
		this.#buffer = concat([this.#buffer, bytes]);
		const skip = expected === 'hello' ? 1 : 0;
		if (skip === 1 && this.#buffer.length > 0 && this.#buffer[0] !== VERSION)
			throw new ProtocolError(`The peer does not speak RTMP: it began with byte ${this.#buffer[0]}`);
		const end = skip + HANDSHAKE_BYTES;
		if (this.#buffer.length < end) return null;
		const block = this.#buffer.slice(skip, end);
		const rest = this.#buffer.slice(end);
		this.#buffer = new Uint8Array(0);
		return { block, rest };
	}
}
