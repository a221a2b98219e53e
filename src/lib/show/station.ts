/** Tells the server what machine this page is on: for the line check, which names clocks and batteries that are not right. */
import { STATION_PAGES, type Station, type StationPage } from '../../core/line-check/facts.ts';
import { watchBattery } from '../../engine/battery.ts';
import type { LiveShow } from './live-show.svelte.ts';

/** A machine that is put to sleep, or loses its cable without a word, is found out after so long. */
const TELL_EVERY_MS = 30_000;

/** The page of an event by its path, such as `/events/lantern-night/panel/event`. */
export function pageOf(path: string): Pick<Station, 'page' | 'panelId'> {
	const [, , , name = '', of = ''] = path.split('/');
	const page: StationPage = name === '' ? 'desk' : (STATION_PAGES.find((each) => each === name) ?? 'other');
	return { page, panelId: page === 'panel' && of !== '' ? of : null };
}

/** @returns a function that ends it */
export function tellStation(show: LiveShow): () => void {
	let battery: Station['battery'] = null;
	const tell = () => {
		const station = { ...pageOf(location.pathname), battery, aheadMs: -show.clockOffsetMs };
		show.post({ type: 'station', station });
	};
	show.onWelcome = show.onClock = tell;
	const timer = setInterval(tell, TELL_EVERY_MS);
	const leaveBattery = watchBattery((now) => {
		battery = now;
		tell();
	});
	return () => {
		clearInterval(timer);
		leaveBattery();
	};
}
