/** What keeps a machine busy for long, in whichever tab: it rests while the machine is tested, and a test waits for its end. */
const LOCK = 'bivvo-heavy-work';

/** Does work that would falsify a test. */
export function asHeavyWork<T>(work: () => Promise<T>): Promise<T> {
	return navigator.locks.request(LOCK, { mode: 'shared' }, work);
}

/**
 * Does something while no such work is done.
 * @throws an AbortError when the signal is given while it waits
 */
export function whileOthersRest<T>(signal: AbortSignal, work: () => Promise<T>): Promise<T> {
	return navigator.locks.request(LOCK, { signal }, work);
}
