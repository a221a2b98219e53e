/** The time as a page shows it. One timer serves all of a page, and goes slowly while another tab is in front. */
import { createSubscriber } from 'svelte/reactivity';
import type { LiveShow } from './live-show.svelte.ts';

/** Often enough that no second is left out. */
const EVERY_MS = 250;

/** Behind another tab: the wall's window may be seen all the same. */
const HIDDEN_EVERY_MS = 1000;

const ticks = createSubscriber((update) => {
	let timer: ReturnType<typeof setInterval>;
	const begin = () => {
		clearInterval(timer);
		timer = setInterval(update, document.visibilityState === 'hidden' ? HIDDEN_EVERY_MS : EVERY_MS);
	};
	const change = () => {
		begin();
		update();
	};
	begin();
	document.addEventListener('visibilitychange', change);
	return () => {
		clearInterval(timer);
		document.removeEventListener('visibilitychange', change);
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
