import { describe, expect, it } from 'vitest';
import { readSaid, storedSaid, type Happening } from './log.ts';

const LONGEST = 500;
const kept = (said: string | Happening) => readSaid(storedSaid(said, LONGEST));

describe('a line of the log', () => {
	it('is stored and read again: names and texts of people, and what happened', () => {
		const closed = { code: 'closed' as const, about: {} };
		const all: (string | Happening)[] = [
			'Chapel wide',
			'{"is":"onAir"}',
			{ is: 'offAir' },
			{ is: 'rate', kbps: 900, plannedKbps: 2500 },
			{ is: 'destination', name: 'Ridge Channel', phase: 'lost', fault: closed },
		];
		for (const said of all) expect(kept(said)).toEqual(said);
	});

	it('fits into its column: a long text is cut, and a host that says too much is left without its words', () => {
		expect(storedSaid('a'.repeat(2000), LONGEST)).toHaveLength(LONGEST);
		const fault = { code: 'said' as const, about: { words: '"'.repeat(300) } };
		expect(kept({ is: 'destination', name: 'Ridge Channel', phase: 'refused', fault })).toEqual({
			is: 'destination',
			name: 'Ridge Channel',
			phase: 'refused',
			fault: null,
		});
	});

	it('that a person has made to look like one of ours stays a text, and one that cannot be read is shown', () => {
		const forged = storedSaid({ is: 'onAir' }, LONGEST);
		expect(kept(forged)).toBe('{"is":"onAir"}');
		expect(readSaid(forged.slice(0, -1))).toBe('{"is":"onAir"');
		expect(readSaid('Ridge Channel: live')).toBe('Ridge Channel: live');
	});
});
