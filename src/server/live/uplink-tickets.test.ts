import { expect, it } from 'vitest';
import type { Admitted } from '../access/access.ts';
import { UplinkTickets } from './uplink-tickets.ts';

const DIRECTOR = { path: '/api/events/night/uplink', address: '192.0.2.7' } as Admitted;
const requestTo = (address: string, part = '') => ({ url: address.replace('wss://two.test', '') + part });

it('lets in whoever has fetched it, once, soon and to that event', () => {
	const tickets = new UplinkTickets('https://two.test');
	const issue = () => tickets.issue('night', DIRECTOR, 1000)!;
	const request = requestTo(issue(), '&lease=a');
	expect(tickets.has(request)).toBe(true);
	expect(tickets.take(request, 2000)).toEqual({ path: '/uplink/night', address: '192.0.2.7' });
	expect([tickets.has(request), tickets.take(request, 2000)]).toEqual([false, null]);
	expect(tickets.take(requestTo(issue()), 17_000)).toBeNull();
	expect(tickets.take(requestTo(issue().replace('night', 'day')), 2000)).toBeNull();
	expect(tickets.take(requestTo(issue().replace('uplink', 'live')), 2000)).toBeNull();
	expect(tickets.take({ url: '/uplink/night' }, 2000)).toBeNull();
});

it('is not needed where a desk does not reach the node', () => {
	expect(new UplinkTickets(null).issue('night', DIRECTOR)).toBeNull();
});
