import { describe, expect, it } from 'vitest';
import { cardText, clockText, dateText } from './words.ts';

const FIELDS = {
	title: 'Lantern Night',
	startsAt: '2026-11-28T19:00',
	people: [{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden, Cold Tarn' }],
};

describe('a card', () => {
	it('says what the event says, so that a change is made in one place', () => {
		expect(cardText({ says: 'event' }, FIELDS)).toBe('Lantern Night');
		expect(cardText({ says: 'date' }, FIELDS)).toContain('28 November 2026');
		expect(cardText({ says: 'person', personId: 'maren' }, FIELDS)).toBe('Maren Oakshaw');
		expect(cardText({ says: 'role', personId: 'maren' }, FIELDS)).toBe('hut warden, Cold Tarn');
		expect(cardText({ says: 'text', text: 'Thank you' }, FIELDS)).toBe('Thank you');
	});

	it('says nothing where what it names is gone', () => {
		expect(cardText({ says: 'person', personId: 'gone' }, FIELDS)).toBe('');
		expect([dateText(''), dateText('some day')]).toEqual(['', '']);
	});
});

describe('a clock', () => {
	const at = (time: string) => new Date(`2026-11-28T${time}`).getTime();

	it('shows the time of day', () => {
		expect(clockText({ shows: 'time' }, at('19:05:09'))).toBe('19:05:09');
	});

	it('reaches 0:00 at the moment itself and stays there', () => {
		const clock = { shows: 'countdownTo', to: '2026-11-28T19:00' } as const;
		expect(clockText(clock, at('18:55:00'))).toBe('5:00');
		expect(clockText(clock, at('18:59:59') + 1)).toBe('0:01');
		expect(clockText(clock, at('19:00:00'))).toBe('0:00');
		expect(clockText(clock, at('19:30:00'))).toBe('0:00');
		expect(clockText(clock, at('17:00:00'))).toBe('2:00:00');
		expect(clockText({ ...clock, to: '' }, at('17:00:00'))).toBe('');
	});

	it('stands still until it is started', () => {
		expect(clockText({ shows: 'countdown', durationS: 90, startedAt: null }, 5e12)).toBe('1:30');
		expect(clockText({ shows: 'countdown', durationS: 90, startedAt: 1000 }, 31_000)).toBe('1:00');
		expect(clockText({ shows: 'countUp', startedAt: null }, 5e12)).toBe('0:00');
		expect(clockText({ shows: 'countUp', startedAt: 0 }, 3_661_000)).toBe('1:01:01');
	});
});
