import { describe, expect, it } from 'vitest';
import { Relief, type Part, type Seen } from './relief.ts';

const SPENT = { others: 0.3, program: 0.1, tracks: 0 };
/** Frames of half a second. */
const DUE = 15;

/** A machine that is looked at twice a second. */
function machine() {
	const relief = new Relief();
	let now = 0;
	return {
		relief,
		/** Passes so many seconds, in which a frame takes a part of its time. */
		pass(seconds: number, load: number, leftOut = 0, spent: Seen['spent'] = SPENT) {
			for (const end = now + 1000 * seconds; now < end; now += 500)
				relief.observe({ load, spent, due: DUE, leftOut }, now);
		},
	};
}

describe('what is given up', () => {
	it('is nothing while there is time', () => {
		const { relief, pass } = machine();
		pass(60, 0.75);
		expect(relief).toMatchObject({ level: 0, programHz: 15, otherHz: 10, tracksEvery: 1, encodesEvery: 1 });
	});

	it('is at once what saves most of what the desk alone sees, and no more than it takes', () => {
		const { relief, pass } = machine();
		pass(0.5, 0.85);
		expect(relief).toMatchObject({ level: 1, programHz: 15, otherHz: 1, tracksEvery: 1 });
		const others: [Part, Seen['spent'], object][] = [
			['program', { others: 0.1, program: 0.5, tracks: 0 }, { programHz: 5, otherHz: 10, tracksEvery: 1 }],
			['tracks', { others: 0.1, program: 0.1, tracks: 0.6 }, { programHz: 15, otherHz: 10, tracksEvery: 2 }],
		];
		for (const [, spent, left] of others) {
			const other = machine();
			other.pass(0.5, 0.85, 0, spent);
			expect(other.relief).toMatchObject({ level: 1, ...left });
		}
	});

	it('is all of that at once when viewers miss a picture, however little each takes', () => {
		const { relief, pass } = machine();
		pass(0.5, 0.2, 1);
		expect(relief).toMatchObject({ level: 2, programHz: 5, otherHz: 1, tracksEvery: 2, encodesEvery: 1 });
	});

	it('is never every other picture while few are missed, nor for a disturbance of some seconds', () => {
		const { relief, pass } = machine();
		pass(60, 0.95, 1);
		expect(relief.level).toBe(2);
		const disturbed = machine();
		disturbed.pass(3.5, 0.95, 8);
		expect(disturbed.relief.level).toBe(2);
	});

	it('is not kept for good because it seemed to save much in a bad moment', () => {
		const { relief, pass } = machine();
		pass(0.5, 3, 0, { others: 2, program: 0.5, tracks: 0 });
		expect(relief.level).toBeGreaterThan(0);
		pass(6, 0.2, 0, { others: 0.01, program: 0.02, tracks: 0 });
		expect(relief.level).toBe(0);
	});

	it('is every other picture in true overload', () => {
		const { relief, pass } = machine();
		pass(6, 0.95, 8);
		expect(relief).toMatchObject({ level: 3, encodesEvery: 2 });
	});
});

describe('what was given up', () => {
	it('is taken back within seconds, all of it', () => {
		const { relief, pass } = machine();
		pass(6, 0.95, 8);
		pass(4.5, 0.2);
		expect(relief).toMatchObject({ level: 0, programHz: 15, otherHz: 10, encodesEvery: 1 });
	});

	it('comes back only as far as there is time for it', () => {
		const { relief, pass } = machine();
		pass(0.5, 0.6, 2);
		pass(5, 0.5);
		// The wall's 0.27 would be too much on top of 0.5; the program's monitor is not.
		expect(relief).toMatchObject({ level: 1, programHz: 15, otherHz: 1 });
		pass(2, 0.3);
		expect(relief.level).toBe(0);
	});

	it('does not come back as every picture before twice the work would be easy', () => {
		const { relief, pass } = machine();
		pass(6, 0.95, 8);
		pass(60, 0.4);
		expect(relief.level).toBe(3);
		pass(3.5, 0.25);
		expect(relief.encodesEvery).toBe(1);
	});

	it('comes and goes ever more seldom where it cannot be kept, and is quick again after a calm time', () => {
		const { relief, pass } = machine();
		const changes = (seconds: number) => {
			let [count, before] = [0, relief.level];
			for (let t = 0; t < seconds; t += 0.5) {
				// With the wall refreshed it is too much, without it is easy.
				pass(0.5, relief.level === 0 ? 0.9 : 0.3);
				if (relief.level !== before) count++;
				before = relief.level;
			}
			return count;
		};
		expect(changes(30)).toBeGreaterThan(changes(30));
		pass(60, 0.3);
		pass(0.5, 0.9);
		expect(relief.level).toBe(1);
		pass(2, 0.3);
		expect(relief.level).toBe(0);
	});
});
