/** What the command tells the person at the terminal. */

/** A problem in one sentence that says what to do; shown without a stack. */
export class Problem extends Error {}

/** @param {string} text */
export function step(text) {
	console.log(`→ ${text}`);
}
