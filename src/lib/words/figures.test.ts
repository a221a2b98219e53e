import { describe, expect, it } from 'vitest';
import type { DestinationStatus } from '../../core/show/messages.ts';
import { idleStatus } from '../../core/show/messages.ts';
import { phaseWord } from '../desk/delivery/phases.ts';
import { bytesOf, clockOf, durationOf, rateOf } from './index.ts';

describe('figures as people read them', () => {
	it('says how long something lasts as roughly as it is known', () => {
		expect([0, 59, 1500, 11_400, 86_399, 100_000, 200_000, 9e6].map(durationOf)).toEqual([
			'0 min',
			'0 min',
			'25 min',
			'3 h 10 min',
			'23 h 59 min',
			'1 day',
			'2 days',
			'more than ten days',
		]);
	});

	it('counts time without jumping', () => {
		expect([0, 5, 65, 599, 3600, 3725, 36_000].map(clockOf)).toEqual([
			'0:00',
			'0:05',
			'1:05',
			'9:59',
			'1:00:00',
			'1:02:05',
			'10:00:00',
		]);
		expect([-5, 59.99].map(clockOf)).toEqual(['0:00', '0:59']);
	});

	it('changes unit where the number would grow long', () => {
		expect([0, 640, 999, 1000, 2628, 12_040].map(rateOf)).toEqual([
			'0 kbit/s',
			'640 kbit/s',
			'999 kbit/s',
			'1.0 Mbit/s',
			'2.6 Mbit/s',
			'12.0 Mbit/s',
		]);
		expect([0, 12_582_912, 2.25e9].map(bytesOf)).toEqual(['0 MB', '13 MB', '2.3 GB']);
	});

	it('has a word for every state of a destination', () => {
		const words = (['off', 'connecting', 'live', 'lost', 'refused'] as const).map((phase) =>
			phaseWord({ ...idleStatus('a', 0), phase } satisfies DestinationStatus, true),
		);
		expect(words).toEqual(['waiting for the program', 'connecting…', 'live', 'lost, trying again', 'refused']);
		expect(phaseWord(undefined, false)).toBe('ready');
	});
});
