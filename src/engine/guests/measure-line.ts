/** Measures what a guest's line carries, by sending pieces to the server. */
import { measured, nextPiece, type LineMeasured, type SentPiece } from '../../core/guests/line-check.ts';

const LASTS_MS = 5000;
const EMPTY = 3;
/** A fast line takes a piece in no time. */
const MOST_PIECES = 40;
/** Random bytes at a time, at most (W3C Web Cryptography API, 10.1.1). What can be packed would not fill the line. */
const RANDOM_BYTES = 65_536;

/** A line that carries so much is good for anything here: it need not be filled any longer. */
const PLENTY = { kbps: 10_000, afterMs: 1500 };

/**
 * Takes about five seconds, on a very good line less.
 * @param url where pieces are taken
 * @param tell told of each finding on the way
 * @throws when the server is not reached, or the page goes
 */
export async function measureLine(
	url: string,
	tell: (line: LineMeasured) => void,
	signal: AbortSignal,
): Promise<LineMeasured> {
	const send = async (bytes: number): Promise<SentPiece> => {
		const body = new Uint8Array(bytes);
		for (let at = 0; at < bytes; at += RANDOM_BYTES) crypto.getRandomValues(body.subarray(at, at + RANDOM_BYTES));
		const startedAt = performance.now();
		const headers = { 'Content-Type': 'application/octet-stream' };
		const answer = await fetch(url, { method: 'POST', body, headers, signal });
		await answer.arrayBuffer();
		if (!answer.ok) throw new Error(answer.statusText);
		return { bytes, ms: performance.now() - startedAt };
	};
	const [empty, sent]: [SentPiece[], SentPiece[]] = [[], []];
	for (let i = 0; i < EMPTY; i++) empty.push(await send(0));
	const startedAt = performance.now();
	while (performance.now() - startedAt < LASTS_MS && sent.length < MOST_PIECES) {
		sent.push(await send(nextPiece(sent)));
		const line = measured(sent, empty)!;
		tell(line);
		if (line.kbps > PLENTY.kbps && performance.now() - startedAt > PLENTY.afterMs) break;
	}
	return measured(sent, empty)!;
}
