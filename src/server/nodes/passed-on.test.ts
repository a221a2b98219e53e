import type { IncomingMessage } from 'node:http';
import { expect, it } from 'vitest';
import { acceptPassed, cameBy, PASSED_HEADER, passedHeader } from './passed-on.ts';

const KEY = Buffer.alloc(32, 1);
const NOW = 1_795_890_600_000;
const request = (part: object = {}) =>
	({
		method: 'GET',
		url: '/events/lantern-night',
		headers: { host: 'hall.test', cookie: 'session=a' },
		socket: { remoteAddress: '192.0.2.7', localAddress: '192.0.2.1', localPort: 5300 },
		...part,
	}) as unknown as IncomingMessage;
/** The request as the next node gets it. */
function passed(part: object = {}, key = KEY): IncomingMessage {
	const header = passedHeader(request(), key, true, NOW);
	const next = request({ socket: { remoteAddress: '10.0.0.2' }, ...part });
	next.headers[PASSED_HEADER] = header;
	return next;
}

it('came as it did to the first node, however many have passed it on', () => {
	const second = passed();
	expect(acceptPassed(second, KEY, NOW + 1000)).toBe(true);
	expect(cameBy(second)).toMatchObject({ remoteAddress: '192.0.2.7', localPort: 5300, hops: 1 });
	// What reads headers further on finds nothing of it.
	expect(second.headers[PASSED_HEADER]).toBeUndefined();
	const third = request();
	third.headers[PASSED_HEADER] = passedHeader(second, KEY, true, NOW + 2000);
	expect(acceptPassed(third, KEY, NOW + 2000)).toBe(true);
	expect(cameBy(third)).toMatchObject({ remoteAddress: '192.0.2.7', hops: 2 });
});

it.each([
	['another key', passed({}, Buffer.alloc(32, 2)), NOW],
	['another address', passed({ url: '/people' }), NOW],
	['another method', passed({ method: 'PUT' }), NOW],
	['too late', passed(), NOW + 31_000],
])('is refused with a header that was made for something else: %s', (_, forged, now) => {
	expect(acceptPassed(forged, KEY, now)).toBe(false);
	expect(cameBy(forged).remoteAddress).toBe('10.0.0.2');
});

it('is refused with another cookie, and by a server of one node whatever it says', () => {
	const other = passed();
	other.headers.cookie = 'session=b';
	expect(acceptPassed(other, KEY, NOW)).toBe(false);
	expect(acceptPassed(passed(), null, NOW)).toBe(false);
	expect(acceptPassed(request(), null, NOW)).toBe(true);
});
