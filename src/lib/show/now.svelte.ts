/** The time of day as a page shows it: the server's, a few times a second. */
import type { LiveShow } from './live-show.svelte.ts';

/** Often enough that no second is left out. */
const EVERY_MS = 200;

/** Call while a component is set up. @returns milliseconds since 1970, by the server's clock, as they go by */
export function useNow(show: Pick<LiveShow, 'now'>): { readonly now: number } {
	let now = $state(show.now);
	$effect(() => {
		const timer = setInterval(() => (now = show.now), EVERY_MS);
		return () => clearInterval(timer);
	});
	return {
		get now() {
			return now;
		},
	};
}
