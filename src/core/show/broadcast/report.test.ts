import { expect, it } from 'vitest';
import { destinationSeries, guestSeries, loudnessSeries, summarise, type FiguresAt } from './report.ts';

const figures = (
	atS: number,
	part: Partial<FiguresAt> = {},
	ridge: Partial<FiguresAt['destinations'][number]> = {},
): FiguresAt => ({
	at: 1_000_000 + atS * 1000,
	destinations: [
		{ id: 'ridge', name: 'Ridge Channel', live: true, kbps: 2000, queueBytes: 0, lostFrames: 0, ...ridge },
	],
	rates: [],
	loudness: { shortTerm: -18, integrated: -17 },
	held: false,
	engine: null,
	serverCores: 0.1,
	...part,
});
const evening = [
	figures(0, {}, { live: false, kbps: 0 }),
	figures(5, {}, { lostFrames: 4 }),
	figures(10, { held: true, loudness: null }, { kbps: 1000, lostFrames: 10 }),
	// The server was started anew here.
	figures(15, { loudness: { shortTerm: -120, integrated: -16.5 } }, { lostFrames: 3 }),
];

it('a broadcast comes to the time it was taken, the rate by time, and all pictures left out over restarts', () => {
	const { lastsS, destinations, heldS, loudness } = summarise(evening, 1_000_000, 1_025_000);
	expect(lastsS).toBe(25);
	expect(destinations).toEqual([{ name: 'Ridge Channel', liveS: 20, meanKbps: 1750, lostFrames: 13 }]);
	expect(heldS).toBe(5);
	expect(loudness).toBe(-16.5);
	expect(summarise([], 0, 0)).toEqual({ lastsS: 0, destinations: [], heldS: 0, loudness: null });
});

it('how many watched is drawn where that is told, and is a gap where it is not', () => {
	const told = [figures(0, {}, { viewers: 7 }), figures(5), figures(10, {}, { viewers: 0 })];
	const [ridge] = destinationSeries(told, 1_000_000, 'viewers');
	expect(ridge!.points.map(({ y }) => y)).toEqual([7, null, 0]);
});

it('a line has a gap where there was nothing, not a nought', () => {
	const [ridge] = destinationSeries(evening, 1_000_000, 'kbps');
	expect(ridge!.points.map(({ x, y }) => [x, y])).toEqual([
		[0, null],
		[5, 2000],
		[10, 1000],
		[15, 2000],
	]);
	const [short, all] = loudnessSeries(evening, 1_000_000, { shortTerm: 'Short', integrated: 'All' });
	expect(short!.points.map(({ y }) => y)).toEqual([-18, -18, null, null]);
	expect(all!.points.map(({ y }) => y)).toEqual([-17, -17, null, -16.5]);
});

it('shows what the line of each guest lost while they were there', () => {
	const ysolde = (lost: number | null) => ({ guests: [{ id: 'ysolde', name: 'Ysolde Brann', lost, roundTripMs: 80 }] });
	const list = [figures(0), figures(2, ysolde(0.01)), figures(4, ysolde(null)), figures(6, ysolde(0.08)), figures(8)];
	expect(guestSeries(list, 1_000_000)).toEqual([
		{
			name: 'Ysolde Brann',
			points: [null, 1, null, 8, null].map((y, i) => ({ x: 2 * i, y })),
		},
	]);
	expect(guestSeries(evening, 1_000_000)).toEqual([]);
});
