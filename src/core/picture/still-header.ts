/** Type, size and animation of a picture file from its first bytes, before anything is decoded: a small file can hold a huge picture. */
import { imageSize } from 'image-size';
import type { Size } from './geometry.ts';

export interface StillHeader extends Size {
	type: 'image/png' | 'image/jpeg' | 'image/webp' | 'video/webm';
	/** True when there is more than one picture in it. */
	moves: boolean;
}

/** Limits of a still: bytes of the file, pixels of the longer side. */
export const MAX_STILL_BYTES = 25 * 1024 * 1024;
export const MAX_STILL_SIDE = 8192;

/** Frames of a picture that moves are all held ready; so many bytes of them at most. */
export const MAX_MOVING_BYTES = 400 * 1024 * 1024;

/** By the name that image-size gives to a form. */
const TYPES: Partial<Record<string, StillHeader['type']>> = { png: 'image/png', jpg: 'image/jpeg', webp: 'image/webp' };

/**
 * Reads the header of a PNG, JPEG, WebP or WebM (RFC 9559) file.
 * @returns null when it is none of them, or is cut short
 */
export function readStillHeader(bytes: Uint8Array): StillHeader | null {
	if (number(bytes, 0, 4) === EBML.head) return readWebm(bytes);
	try {
		const { type: form, width, height } = imageSize(bytes);
		const type = TYPES[form ?? ''];
		return type ? found(type, width, height, isAnimatedPng(bytes) || isAnimatedWebp(bytes)) : null;
	} catch {
		return null;
	}
}

/** The flag of the extended header (RFC 9649, 2.7). */
function isAnimatedWebp(bytes: Uint8Array): boolean {
	const VP8X = 0x56503858;
	return number(bytes, 12, 4) === VP8X && (bytes[20]! & 0x02) !== 0;
}

/** The animation control chunk stands before the first picture data (W3C PNG, 11.3.6). */
function isAnimatedPng(bytes: Uint8Array): boolean {
	if (number(bytes, 0, 4) !== 0x89504e47) return false;
	for (let at = 8; at + 8 < bytes.length; at += 12 + number(bytes, at, 4)) {
		const name = number(bytes, at + 4, 4);
		if (name === 0x6163544c) return true;
		if (name === 0x49444154) return false;
	}
	return false;
}

/** Element ids of WebM that lead to the size of its first picture track. */
const EBML = {
	head: 0x1a45dfa3,
	within: new Set([0x18538067, 0x1654ae6b, 0xae, 0xe0]),
	width: 0xb0,
	height: 0xba,
};

function readWebm(bytes: Uint8Array): StillHeader | null {
	let [width, height] = [0, 0];
	for (let at = 0; at < bytes.length && !(width && height);) {
		const idLength = Math.clz32(bytes[at]!) - 23;
		const id = number(bytes, at, idLength);
		const sizeLength = Math.clz32(bytes[at + idLength] ?? 0) - 23;
		if (idLength > 4 || sizeLength > 8) return null;
		const high = (bytes[at + idLength]! & (0x7f >> (sizeLength - 1))) * 256 ** (sizeLength - 1);
		const size = high + number(bytes, at + idLength + 1, sizeLength - 1);
		const body = at + idLength + sizeLength;
		if (id === EBML.width) width = number(bytes, body, size);
		if (id === EBML.height) height = number(bytes, body, size);
		at = EBML.within.has(id) ? body : body + size;
		if (!(at >= body)) return null;
	}
	return found('video/webm', width, height, true);
}

function found(type: StillHeader['type'], width: number, height: number, moves = false): StillHeader | null {
	return width > 0 && height > 0 ? { type, width, height, moves } : null;
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
	if (!header) return `${name} is not a picture that can be read. Try PNG, JPEG, WebP, SVG or WebM.`;
	if (header === 'svg') return null;
	const { width, height } = header;
	if (width > MAX_STILL_SIDE || height > MAX_STILL_SIDE)
		return `${name} is ${width} × ${height}; ${MAX_STILL_SIDE} pixels a side is the most. Save it smaller.`;
	return null;
}

/**
 * Why a picture that moves is not taken, or null.
 * @param frames how many pictures are in it
 */
export function movingProblem(name: string, { width, height }: Size, frames: number): string | null {
	const each = width * height * 2.5;
	if (frames * each <= MAX_MOVING_BYTES) return null;
	const fit = Math.floor(MAX_MOVING_BYTES / each);
	return `${name} has ${frames} pictures of ${width} × ${height}; ${fit} of that size is the most. Make it smaller or shorter.`;
}
