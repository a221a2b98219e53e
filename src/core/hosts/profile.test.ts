import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { at, filledBody, filledPath, numberAt, PLAIN_CALLS, profileSchema, textAt, timeAt } from './profile.ts';

const PROFILE = {
	name: 'Fell Stream',
	clientId: 'bivvo-at-hollin',
	authorizationUrl: 'https://fell.example/authorize',
	tokenUrl: 'https://fell.example/token',
	apiUrl: 'https://fell.example/programs',
};

describe('a host’s profile', () => {
	it('needs no more than where it asks; what it does not say is as Bivvo would have it', () => {
		expect(v.parse(profileSchema, PROFILE)).toMatchObject({ deviceUrl: null, clientSecret: '', calls: PLAIN_CALLS });
	});

	it.each([
		['no name', { name: '' }],
		['an address that is none', { tokenUrl: 'fell.example' }],
		['an address with a login', { apiUrl: 'https://me@fell.example' }],
		['a call that does nothing', { calls: { ...PLAIN_CALLS, end: { method: 'LOOK', path: '/end' } } }],
		['a place that is no pointer', { calls: { ...PLAIN_CALLS, places: { ...PLAIN_CALLS.places, list: 'places' } } }],
		['no way to plan', { calls: { ...PLAIN_CALLS, create: null } }],
	])('with %s is refused', (_, part) => {
		expect(v.is(profileSchema, { ...PROFILE, ...part })).toBe(false);
	});
});

describe('a call', () => {
	it('has its blanks filled in, each as one part of a path', () => {
		expect(filledPath('/places/{place}/x?after={after}', { place: 'a/../b?c', after: 7 })).toBe(
			'/places/a%2F..%2Fb%3Fc/x?after=7',
		);
		const body = { one: '{number}', two: ['“{text}”', { three: '{text}' }], four: true, five: '{unknown}' };
		expect(filledBody(body, { number: 5, text: 'a "b" {number}' })).toEqual({
			one: 5,
			two: ['“a "b" {number}”', { three: 'a "b" {number}' }],
			four: true,
			five: '',
		});
	});

	it('reads its answer where its profile says (RFC 6901, section 5)', () => {
		const answer = { 'a/b': { 'm~n': [10, { id: 7, at: '2026-11-28T19:00:00Z', rate: '2500' }] } };
		expect(at(answer, '')).toBe(answer);
		expect(at(answer, '/a~1b/m~0n/0')).toBe(10);
		expect(at(answer, '/a~1b/nothing/0')).toBeUndefined();
		expect(at({}, '/constructor')).toBeUndefined();
		expect(textAt(answer, '/a~1b/m~0n/1/id', 10)).toBe('7');
		expect(numberAt(answer, '/a~1b/m~0n/1/rate')).toBe(2500);
		expect(timeAt(answer, '/a~1b/m~0n/1/at')).toBe(Date.UTC(2026, 10, 28, 19));
	});

	it('makes something of any answer, or nothing', () => {
		const place = fc.stringMatching(/^(\/[a-z~01]{0,4}){0,3}$/);
		fc.assert(
			fc.property(fc.jsonValue(), place, (answer, where) => {
				expect(textAt(answer, where, 5).length).toBeLessThanOrEqual(5);
				const [number, time] = [numberAt(answer, where), timeAt(answer, where)];
				expect(number === null || Number.isFinite(number)).toBe(true);
				expect(time === null || Number.isFinite(time)).toBe(true);
				filledBody(answer, { text: 'x' });
			}),
			{ seed: 20, numRuns: 1000 },
		);
	});
});
