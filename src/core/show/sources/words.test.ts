import { describe, expect, it } from 'vitest';
import { plainLook } from '../event/look.ts';
import { cardText, clockText, dateText } from './words.ts';

const FIELDS = {
	title: 'Lantern Night',
	startsAt: '2026-11-28T19:00',
	timeZone: 'Europe/Paris',
	people: [{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden, Cold Tarn' }],
	look: { ...plainLook(), organisation: 'Hollin Fell Huts Association' },
};

describe('a card', () => {
	it('says what the event says, so that a change is made in one place', () => {
		expect(cardText({ says: 'event' }, FIELDS)).toBe('Lantern Night');
		expect(cardText({ says: 'date' }, FIELDS)).toContain('28 November 2026');
		expect(cardText({ says: 'person', personId: 'maren' }, FIELDS)).toBe('Maren Oakshaw');
		expect(cardText({ says: 'role', personId: 'maren' }, FIELDS)).toBe('hut warden, Cold Tarn');
		expect(cardText({ says: 'text', text: 'Thank you' }, FIELDS)).toBe('Thank you');
		expect(cardText({ says: 'time' }, FIELDS)).toBe('19:00');
		expect(cardText({ says: 'organisation' }, FIELDS)).toBe('Hollin Fell Huts Association');
	});

	it('says nothing where what it names is gone', () => {
		expect(cardText({ says: 'person', personId: 'gone' }, FIELDS)).toBe('');
		expect([dateText(''), dateText('some day')]).toEqual(['', '']);
	});
});

describe('a clock', () => {
	const ZONE = 'Europe/Paris';
	const at = (time: string) => Date.parse(`2026-11-28T${time}+01:00`);

	it('shows the time of day where the event is', () => {
		expect(clockText({ shows: 'time' }, at('19:05:09'), ZONE)).toBe('19:05:09');
	});

	it('reaches 0:00 at the moment itself and stays there', () => {
		const clock = { shows: 'countdownTo', to: '2026-11-28T19:00' } as const;
		expect(clockText(clock, at('18:55:00'), ZONE)).toBe('5:00');
		expect(clockText(clock, at('18:59:59') + 1, ZONE)).toBe('0:01');
		expect(clockText(clock, at('19:00:00'), ZONE)).toBe('0:00');
		expect(clockText(clock, at('19:30:00'), ZONE)).toBe('0:00');
		expect(clockText(clock, at('17:00:00'), ZONE)).toBe('2:00:00');
		expect(clockText({ ...clock, to: '' }, at('17:00:00'), ZONE)).toBe('');
	});

	it('stands still until it is started', () => {
		expect(clockText({ shows: 'countdown', durationS: 90, startedAt: null }, 5e12, ZONE)).toBe('1:30');
		expect(clockText({ shows: 'countdown', durationS: 90, startedAt: 1000 }, 31_000, ZONE)).toBe('1:00');
		expect(clockText({ shows: 'countUp', startedAt: null }, 5e12, ZONE)).toBe('0:00');
		expect(clockText({ shows: 'countUp', startedAt: 0 }, 3_661_000, ZONE)).toBe('1:01:01');
	});
});
