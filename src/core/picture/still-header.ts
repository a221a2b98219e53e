/** What the first bytes of a picture file say of it, before anything is decoded: a small file can hold a huge picture. */
import type { Size } from './geometry.ts';

export interface StillHeader extends Size {
	type: 'image/png' | 'image/jpeg' | 'image/webp';
}

/** The largest file that is taken, and the longest side of a picture. */
export const MAX_STILL_BYTES = 25 * 1024 * 1024;
export const MAX_STILL_SIDE = 8192;

/**
 * Reads the header of a PNG (W3C PNG, 11.2.2), JPEG (ITU-T T.81, B.2.2) or WebP (RFC 9649) file.
 * @returns null when it is none of them, or is cut short
 */
export function readStillHeader(bytes: Uint8Array): StillHeader | null {
	const text = (at: number, length: number) => String.fromCharCode(...bytes.subarray(at, at + length));
	if (text(0, 8) === '\x89PNG\r\n\x1a\n' && text(12, 4) === 'IHDR')
		return found('image/png', number(bytes, 16, 4), number(bytes, 20, 4));
	if (number(bytes, 0, 3) === 0xffd8ff) return readJpeg(bytes);
	if (text(0, 4) !== 'RIFF' || text(8, 4) !== 'WEBP') return null;
	const little = (at: number, length: number) => number(bytes.slice(at, at + length).reverse(), 0, length);
	switch (text(12, 4)) {
		case 'VP8 ':
			return found('image/webp', little(26, 2) & 0x3fff, little(28, 2) & 0x3fff);
		case 'VP8L':
			return found('image/webp', (little(21, 4) & 0x3fff) + 1, ((little(21, 4) >>> 14) & 0x3fff) + 1);
		case 'VP8X':
			return found('image/webp', little(24, 3) + 1, little(27, 3) + 1);
		default:
			return null;
	}
}

/** Goes from marker to marker up to the frame header, which has the size. */
function readJpeg(bytes: Uint8Array): StillHeader | null {
	let at = 2;
	while (at + 9 < bytes.length && bytes[at] === 0xff) {
		const marker = bytes[at + 1]!;
		// Start of frame, of any coding; C4, C8 and CC are something else.
		const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
		if (frame) return found('image/jpeg', number(bytes, at + 7, 2), number(bytes, at + 5, 2));
		at += marker === 0xff ? 1 : 2 + number(bytes, at + 2, 2);
	}
	return null;
}

function found(type: StillHeader['type'], width: number, height: number): StillHeader | null {
	return width > 0 && height > 0 ? { type, width, height } : null;
}

/** A big-endian number, or NaN where the bytes end. */
function number(bytes: Uint8Array, at: number, length: number): number {
	if (at + length > bytes.length) return NaN;
	return bytes.subarray(at, at + length).reduce((sum, byte) => sum * 256 + byte, 0);
}

/** Why a picture is not taken, or null. An SVG has no pixels of its own, so only the size of its file is in question. */
export function stillProblem(name: string, byteCount: number, header: StillHeader | 'svg' | null): string | null {
	if (byteCount > MAX_STILL_BYTES)
		return `${name} has ${Math.round(byteCount / 1e6)} MB; 25 MB is the most. Save it smaller.`;
	if (!header) return `${name} is not a picture that can be read. Try PNG, JPEG, WebP or SVG.`;
	if (header === 'svg') return null;
	const { width, height } = header;
	if (width > MAX_STILL_SIDE || height > MAX_STILL_SIDE)
		return `${name} is ${width} × ${height}; ${MAX_STILL_SIDE} pixels a side is the most. Save it smaller.`;
	return null;
}
