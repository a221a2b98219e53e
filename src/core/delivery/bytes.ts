/** Joins byte arrays into one new array. */
export function concat(parts: readonly Uint8Array[]): Uint8Array {
	let length = 0;
	for (const part of parts) length += part.length;
	const joined = new Uint8Array(length);
	let at = 0;
	for (const part of parts) {
		joined.set(part, at);
		at += part.length;
	}
	return joined;
}

/** A DataView on exactly the bytes of the array, whatever buffer they lie in. */
export function viewOf(bytes: Uint8Array): DataView {
	return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

/** Big-endian unsigned 24-bit number, as RTMP and FLV use it. */
export function readU24(bytes: Uint8Array, at: number): number {
	return (bytes[at]! << 16) | (bytes[at + 1]! << 8) | bytes[at + 2]!;
}

export function writeU24(bytes: Uint8Array, at: number, value: number): void {
	bytes[at] = value >>> 16;
	bytes[at + 1] = value >>> 8;
	bytes[at + 2] = value;
}

/** Input from outside that breaks its protocol. The message says what was wrong, with the offending value. */
export class ProtocolError extends Error {
	override name = 'ProtocolError';
}
