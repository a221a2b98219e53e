/** What a guest's line carries, from pieces that were sent one after another, and what that is good for. */

/** One piece: how long it took, and how much it was. Nothing at all tells the way there and back. */
export interface SentPiece {
	bytes: number;
	ms: number;
}

export interface LineMeasured {
	/** What may be sent, kbit/s. */
	kbps: number;
	roundTripMs: number;
}

/** A piece that takes about so long tells enough, and leaves time for the next. */
const PIECE_MS = 400;
const FIRST_BYTES = 32_000;
export const MOST_PIECE_BYTES = 2_000_000;

/** The size of the next piece. */
export function nextPiece(sent: readonly SentPiece[]): number {
	const last = sent.at(-1);
	if (!last) return FIRST_BYTES;
	const scaled = (last.bytes * PIECE_MS) / Math.max(1, last.ms);
	return Math.round(Math.min(MOST_PIECE_BYTES, 4 * last.bytes, Math.max(FIRST_BYTES / 2, scaled)));
}

/**
 * What a line carries.
 * @param empty pieces without anything in them
 * @returns null before anything is known
 */
export function measured(sent: readonly SentPiece[], empty: readonly SentPiece[]): LineMeasured | null {
	if (sent.length === 0 || empty.length === 0) return null;
	const roundTripMs = Math.min(...empty.map(({ ms }) => ms));
	// The first ones are small, and TCP has not found out yet what the line takes.
	const later = sent.slice(-Math.ceil(sent.length / 2));
	const ms = later.reduce((sum, piece) => sum + Math.max(1, piece.ms - roundTripMs), 0);
	const bytes = later.reduce((sum, piece) => sum + piece.bytes, 0);
	return { kbps: Math.round((8 * bytes) / ms), roundTripMs: Math.round(roundTripMs) };
}

/** For a whole picture; for a small one; for the voice with a very small one; below that for a voice at best. */
export type LineAdvice = 'good' | 'small' | 'weak' | 'voiceOnly';

export function judgeLine({ kbps }: LineMeasured): LineAdvice {
	if (kbps >= 2500) return 'good';
	if (kbps >= 900) return 'small';
	return kbps >= 300 ? 'weak' : 'voiceOnly';
}
