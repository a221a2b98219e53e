/** Secrets that are carried about: made here, kept as hashes only. */
import { createHash, randomBytes } from 'node:crypto';

/** 256 bits, base64url. */
export function newSecret(): string {
	return randomBytes(32).toString('base64url');
}

/** 128 bits, base64url: short enough for a link that is sent by hand. */
export function newLinkSecret(): string {
	return randomBytes(16).toString('base64url');
}

/** SHA-256 in hexadecimal digits. A secret of so many random bits needs no slow hash. */
export function hashOf(secret: string): string {
	return createHash('sha256').update(secret).digest('hex');
}

/** Letters and figures that are not taken for each other when they are read out or typed. */
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

const CODE_LETTERS = 8;

/** A code to be read and typed: eight of 32 characters, 40 bits. */
export function newCode(): string {
	return codeOf(randomBytes(CODE_LETTERS));
}

/** The code that eight bytes make, or the first eight of more. */
export function codeOf(bytes: Buffer): string {
	return [...bytes.subarray(0, CODE_LETTERS)].map((byte) => LETTERS[byte % LETTERS.length]).join('');
}

/** A code as somebody has typed it: small letters, blanks and dashes do not matter. */
export function plainCode(typed: string): string {
	return typed.toUpperCase().replace(/[\s-]/g, '');
}
