import { expect, it } from 'vitest';
import { leaseOf, ORGANISATION } from './lease-of.ts';

it('finds the event of pages, of what they ask for, and of sockets', () => {
	for (const target of [
		'/events/a-1',
		'/events/a-1/mix?x',
		'/api/events/a-1/line',
		'/api/v1/events/a-1/changes',
		'/guest/a-1/x',
	])
		expect(leaseOf(target, false), target).toBe('a-1');
	for (const target of [
		'/live/a-1?page=2',
		'/uplink/a-1',
		'/view/a-1',
		'/watch/a-1?view=wall',
		'/camera/a-1',
		'/guest/a-1/x',
	])
		expect(leaseOf(target, true), target).toBe('a-1');
});

it('takes for the organisation’s what belongs to no event, and leaves to every node what it has itself', () => {
	for (const target of [
		'/',
		'/?o=x',
		'/__data.json?x',
		'/events',
		'/events/',
		'/api/media/x',
		'/songs',
		'/pair',
		'/events/%2e%2e/x',
		'//a.js',
	])
		expect(leaseOf(target, false), target).toBe(ORGANISATION);
	for (const target of ['/_app/immutable/a.js', '/early.js', '/health', '/watch/the-slug', '/whip/k', '/guide/keys'])
		expect(leaseOf(target, false), target).toBeNull();
	for (const target of ['/events/a-1', '/live/', `/live/${'a'.repeat(65)}`])
		expect(leaseOf(target, true), target).toBeNull();
});
