const FIRST_MS = 500;
const MOST_MS = 15_000;

/**
 * How long to wait before the next attempt to reach a host.
 * @param attempt 0 for the first attempt after a loss
 * @returns milliseconds: 500, 1000, 2000, … up to 15 000
 */
export function retryDelayMs(attempt: number): number {
	return Math.min(MOST_MS, FIRST_MS * 2 ** Math.min(attempt, 10));
}
