import { createHmac } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { checkRelay, relayServers } from './relay.ts';

const NOW = 1_795_000_000_000;
const relay = { urls: ['turn:relay.example.org:3478'], secret: 'lamp' };

describe('a relay', () => {
	it('is given with credentials that end in twelve hours, for both transports', () => {
		const [server] = relayServers(relay, 'ysolde', NOW);
		expect(server!.username).toBe(`${NOW / 1000 + 12 * 3600}:ysolde`);
		expect(server!.credential).toBe(createHmac('sha1', 'lamp').update(server!.username!).digest('base64'));
		expect(server!.urls).toEqual([
			'turn:relay.example.org:3478?transport=udp',
			'turn:relay.example.org:3478?transport=tcp',
		]);
		const only = { ...relay, urls: ['turns:relay.example.org:443?transport=tcp'] };
		expect(relayServers(only, 'ysolde', NOW)[0]!.urls).toEqual(only.urls);
		expect(relayServers({ urls: [], secret: '' }, 'ysolde', NOW)).toEqual([]);
	});

	it('is refused with a sentence when it is none, or has no secret', () => {
		expect(() => checkRelay({ ...relay, urls: ['https://relay.example.org'] })).toThrow('no relay');
		expect(() => checkRelay({ ...relay, secret: '' })).toThrow('BIVVO_TURN_SECRET');
		expect(() => checkRelay({ urls: [], secret: '' })).not.toThrow();
		expect(() => checkRelay(relay)).not.toThrow();
	});
});
