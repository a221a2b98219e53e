import fc from 'fast-check';
import { expect, it } from 'vitest';
import { judgeLine, measured, MOST_PIECE_BYTES, nextPiece, type SentPiece } from './line-check.ts';

/** What is measured in so many seconds on a line of some rate and way. */
function over(kbps: number, wayMs: number, seconds: number) {
	const sent: SentPiece[] = [];
	for (let left = 1000 * seconds; left > 0; left -= sent.at(-1)!.ms) {
		const bytes = nextPiece(sent);
		sent.push({ bytes, ms: wayMs + (8 * bytes) / kbps });
	}
	return {
		sent,
		line: measured(sent, [
			{ bytes: 0, ms: wayMs + 5 },
			{ bytes: 0, ms: wayMs },
		])!,
	};
}

it('finds what a line carries, be it slow or fast, near or far, within five seconds', () => {
	fc.assert(
		fc.property(fc.integer({ min: 100, max: 50_000 }), fc.integer({ min: 1, max: 600 }), (kbps, wayMs) => {
			const { sent, line } = over(kbps, wayMs, 5);
			expect(line.roundTripMs).toBe(wayMs);
			expect(line.kbps / kbps).toBeGreaterThan(0.9);
			expect(line.kbps / kbps).toBeLessThan(1.1);
			expect(Math.max(...sent.map(({ bytes }) => bytes))).toBeLessThanOrEqual(MOST_PIECE_BYTES);
			// Nobody waits long for the last one.
			expect(sent.at(-1)!.ms).toBeLessThan(3500);
		}),
	);
	expect(measured([], [])).toBeNull();
});

it('says what a line is good for', () => {
	const at = (kbps: number) => judgeLine({ kbps, roundTripMs: 50 });
	expect([100, 400, 1000, 8000].map(at)).toEqual(['voiceOnly', 'weak', 'small', 'good']);
});
