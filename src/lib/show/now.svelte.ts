/** The time as a page shows it. One timer serves all of a page, and rests while another tab is in front. */
import { createSubscriber } from 'svelte/reactivity';
import type { LiveShow } from './live-show.svelte.ts';

/** Often enough that no second is left out. */
const EVERY_MS = 250;

const ticks = createSubscriber((update) => {
	const tick = () => {
		if (document.visibilityState !== 'hidden') update();
	};
	const timer = setInterval(tick, EVERY_MS);
	document.addEventListener('visibilitychange', tick);
	return () => {
		clearInterval(timer);
		document.removeEventListener('visibilitychange', tick);
	};
});

/** @returns milliseconds since 1970, by the server's clock, as they go by */
export function useNow(show: Pick<LiveShow, 'now'>): { readonly now: number } {
	return {
		get now() {
			ticks();
			return show.now;
		},
	};
}
