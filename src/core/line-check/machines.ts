/** The machines of the evening: what the desk's makes, clocks, batteries, browsers, and what is kept. */
import { isFresh, WATCHED_MS, type Add, type ConnectedStation, type Known } from './known.ts';

/** By more than this a clock is wrong enough for a countdown to be seen to be. */
const CLOCK_MS = 200;
/** Less charge than this does not last an evening. */
const LITTLE_CHARGE = 0.5;
/** One that makes frames in more than this part of its time drops some when anything else wants it. */
const BUSY = 0.8;
/** The oldest browsers that have all that pages need, by their first number. */
const LEAST_VERSIONS: Readonly<Record<string, number>> = { Chromium: 122, Firefox: 128, Safari: 17 };

/** Pages that make the program, or may. */
const MAKES = ['desk', 'prepare'];

export function checkMachines(known: Known, add: Add): void {
	const { facts, now, stored, stations } = known;
	const { look } = facts;
	const isLooked = isFresh(look?.at, now, WATCHED_MS);
	checkTest(known, add);
	if (isLooked) {
		const pressed = look!.pressure === 'serious' || look!.pressure === 'critical';
		const what = { is: 'load', load: look!.load, pressed } as const;
		add('load', look!.load > BUSY || look!.relieved ? 'wrong' : pressed ? 'weak' : 'good', what, { at: look!.at });
	} else add('load', 'unseen', { is: 'load', load: 0, pressed: false }, { mend: { does: 'look' } });
	add('database', stored ? 'good' : 'wrong', { is: 'database', stored }, { at: now });
	const off = stations.filter(({ aheadMs }) => Math.abs(aheadMs) > CLOCK_MS);
	for (const { name, aheadMs } of distinct(off))
		add(`clock ${name}`, 'weak', { is: 'clock', where: name, aheadMs }, { at: now });
	if (stations.length > 0 && off.length === 0) add('clocks', 'good', { is: 'clocks' }, { at: now });
	for (const station of distinct(stations)) checkStation(station, now, add);
	const isThere = stations.some(({ page }) => page === 'desk');
	const mend = { does: 'open', page: 'desk' } as const;
	add('desk', isThere ? 'good' : 'unseen', { is: 'desk', there: isThere }, { at: isThere ? now : null, mend });
}

function checkTest({ facts, now }: Known, add: Add): void {
	const { look } = facts;
	const mend = { does: 'testMachine' } as const;
	const machine = isFresh(look?.at, now) ? look!.machine : null;
	// What a machine can do stays, as long as the event is no heavier.
	if (!machine || machine.outdated)
		return add('test', 'unseen', { is: 'machine', verdict: null, outdated: machine !== null }, { mend });
	const { verdict, at } = machine;
	const state = verdict === 'ample' ? 'good' : verdict === 'tight' ? 'weak' : 'wrong';
	add('test', state, { is: 'machine', verdict, outdated: false }, { at, mend });
}

function checkStation({ name, page, battery, browser }: ConnectedStation, now: number, add: Add): void {
	if (battery) {
		const { charge, isFed } = battery;
		const isEmptying = !isFed && charge < LITTLE_CHARGE;
		// The program ends with the battery of the desk; a phone can be changed for another one.
		const state = isFed ? 'good' : MAKES.includes(page) ? 'wrong' : isEmptying ? 'weak' : 'good';
		add(`power ${name}`, state, { is: 'power', where: name, charge, isFed }, { at: now });
	}
	if (!browser) return;
	const least = LEAST_VERSIONS[browser.name];
	// Only Chromium's engine can make the program.
	const isKnown = least !== undefined && (browser.name === 'Chromium' || !MAKES.includes(page));
	const state = isKnown && browser.version >= least ? 'good' : MAKES.includes(page) ? 'wrong' : 'weak';
	const what = { is: 'browser', where: name, name: browser.name, version: browser.version, least: least ?? 0 } as const;
	if (state !== 'good' || MAKES.includes(page)) add(`browser ${name}`, state, what, { at: now });
}

/** One of each name: a machine may have several pages open. The page that makes the program speaks for it. */
function distinct(stations: readonly ConnectedStation[]): ConnectedStation[] {
	const byName = new Map<string, ConnectedStation>();
	for (const station of stations)
		if (!byName.has(station.name) || MAKES.includes(station.page)) byName.set(station.name, station);
	return [...byName.values()];
}
