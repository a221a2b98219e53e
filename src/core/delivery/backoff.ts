/**
 * How long to wait before the next attempt to reach a host.
 * @param attempt 0 for the first attempt after a loss
 * @returns milliseconds: 500, 1000, 2000, … up to 15 000
 */
export function retryDelayMs(attempt: number): number {
	return Math.min(15_000, 500 * 2 ** Math.min(attempt, 10));
}
