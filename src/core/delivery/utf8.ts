/**
 * UTF-8 (RFC 3629) both ways. The core has no DOM and no Node types, so it brings the few lines it needs.
 */

const REPLACEMENT = 0xfffd;

/** Encodes a string; a lone surrogate becomes U+FFFD. */
export function encodeUtf8(text: string): Uint8Array {
	const bytes: number[] = [];
	for (const character of text) {
		let code = character.codePointAt(0)!;
		if (code >= 0xd800 && code <= 0xdfff) code = REPLACEMENT;
		if (code < 0x80) bytes.push(code);
		else if (code < 0x800) bytes.push(0xc0 | (code >> 6), 0x80 | (code & 0x3f));
		else if (code < 0x10000) bytes.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 0x3f), 0x80 | (code & 0x3f));
		else
			bytes.push(0xf0 | (code >> 18), 0x80 | ((code >> 12) & 0x3f), 0x80 | ((code >> 6) & 0x3f), 0x80 | (code & 0x3f));
	}
	return Uint8Array.from(bytes);
}

/** Decodes bytes; each malformed byte becomes U+FFFD, so nothing a host sends can throw here. */
export function decodeUtf8(bytes: Uint8Array): string {
	let text = '';
	for (let at = 0; at < bytes.length;) {
		const lead = bytes[at]!;
		const length = lead < 0x80 ? 1 : lead >= 0xc2 && lead < 0xe0 ? 2 : lead < 0xf0 ? 3 : lead < 0xf5 ? 4 : 0;
		const code = lead < 0x80 ? lead : length < 2 || lead < 0xc2 ? -1 : continuation(bytes, at, length);
		text += String.fromCodePoint(code < 0 ? REPLACEMENT : code);
		at += code < 0 ? 1 : length;
	}
	return text;
}

function continuation(bytes: Uint8Array, at: number, length: number): number {
	let code = bytes[at]! & (0xff >> (length + 1));
	for (let i = 1; i < length; i++) {
		const byte = bytes[at + i];
		if (byte === undefined || (byte & 0xc0) !== 0x80) return -1;
		code = (code << 6) | (byte & 0x3f);
	}
	const least = length === 2 ? 0x80 : length === 3 ? 0x800 : 0x10000;
	return code < least || code > 0x10ffff || (code >= 0xd800 && code <= 0xdfff) ? -1 : code;
}
