import { expect, it } from 'vitest';
import { Arrival, LEAST_MARGIN_MS, MOST_MARGIN_MS } from './arrival.ts';

it('what is held up on its way is shown at the pace at which it was taken', () => {
	const arrival = new Arrival();
	const delays = [10, 30, 12, 45, 10, 33];
	const due = delays.map((delay, i) => arrival.dueAt('video', 40 * i, 1000 + 40 * i + delay));
	expect(due.map((at, i) => at - 40 * i - due[0]!)).toEqual([0, 0, 0, 0, 0, 0]);
	expect(due[0]).toBe(1010 + LEAST_MARGIN_MS);
});

it('picture and sound are held by the same time, that of the slower one', () => {
	const arrival = new Arrival();
	arrival.dueAt('audio', 0, 1005);
	expect(arrival.dueAt('video', 0, 1065)).toBe(1065 + LEAST_MARGIN_MS);
	expect(arrival.dueAt('audio', 20, 1025)).toBe(1085 + LEAST_MARGIN_MS);
});

it('where more is held up than that, it waits longer, up to a limit, and less again when it is calm', () => {
	const arrival = new Arrival();
	arrival.dueAt('video', 0, 1000);
	let now = 0;
	for (let i = 1; i < 100; i++) arrival.dueAt('video', 40 * i, (now = 1000 + 40 * i + (i % 2) * 400));
	expect(arrival.marginMs).toBe(MOST_MARGIN_MS);
	for (let i = 100; i < 30_000; i++) arrival.dueAt('video', 40 * i, (now = 1000 + 40 * i));
	expect(now).toBeGreaterThan(1_000_000);
	expect(arrival.marginMs).toBe(LEAST_MARGIN_MS);
});

it('a camera whose clock runs slower is followed', () => {
	const arrival = new Arrival();
	const due = (i: number) => arrival.dueAt('video', 40 * i, 40.02 * i) - 40.02 * i;
	let last = 0;
	for (let i = 0; i < 15_000; i++) last = due(i);
	// Ten minutes and 500 ppm: 300 ms apart, of which the last seconds count.
	expect(last).toBeGreaterThan(LEAST_MARGIN_MS - 10);
	expect(last).toBeLessThanOrEqual(LEAST_MARGIN_MS);
});
