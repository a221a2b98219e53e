/** What MP4 files are made of: boxes, which hold numbers and other boxes (ISO/IEC 14496-12, 4.2). All is big-endian. */
import { concat } from '../bytes.ts';

/** A descriptor (ISO/IEC 14496-1, 8.3.3) with its length in four bytes, seven bits each. */
export function descriptor(tag: number, data: Uint8Array): Uint8Array {
	const { length } = data;
	const size = [21, 14, 7].map((shift) => 0x80 | ((length >> shift) & 0x7f));
	return concat([Uint8Array.of(tag, ...size, length & 0x7f), data]);
}

/** @param type its name of four letters */
export function box(type: string, ...parts: Uint8Array[]): Uint8Array {
	return concat([u32(8 + bytesOf(parts)), ascii(type), ...parts]);
}

/** A box that begins with its version and 24 bits of flags. */
export function fullBox(type: string, version: number, flags: number, ...parts: Uint8Array[]): Uint8Array {
	return box(type, u32(version * 0x100_0000 + flags), ...parts);
}

export function bytesOf(parts: readonly Uint8Array[]): number {
	return parts.reduce((sum, { length }) => sum + length, 0);
}

export const zeros = (count: number) => new Uint8Array(count);
export const ascii = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
export const u16 = (...values: number[]) => numbers(2, values);
export const u32 = (...values: number[]) => numbers(4, values);
export const u64 = (value: number) => u32(Math.floor(value / 2 ** 32), value % 2 ** 32);

function numbers(width: 2 | 4, values: readonly number[]): Uint8Array {
	const view = new DataView(new ArrayBuffer(width * values.length));
	values.forEach((value, i) => (width === 2 ? view.setUint16(2 * i, value) : view.setUint32(4 * i, value)));
	return new Uint8Array(view.buffer);
}
