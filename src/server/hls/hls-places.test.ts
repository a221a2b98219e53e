import net from 'node:net';
import { once } from 'node:events';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { until } from '../../../tests/support/app.ts';
import { Publisher } from '../broadcast/publisher.ts';
import { orderTo } from '../../../tests/support/order.ts';
import { HlsPlaces } from './hls-places.ts';

let places: HlsPlaces;
beforeAll(async () => void (places = await HlsPlaces.open()));
afterAll(() => places.close());

function publish(address: string, key: string): Publisher {
	const order = orderTo(address, key);
	const about = { rendition: 0, bitrateKbps: 1, description: new Uint8Array(8) };
	const publisher = new Publisher(order, () => {});
	publisher.configure(
		{ kind: 'videoConfig', width: 640, height: 360, fps: 30, ...about },
		{ kind: 'audioConfig', sampleRate: 48_000, channels: 2, ...about },
	);
	return publisher;
}

it('a destination of an event has a place of its own, as long as something is sent there', async () => {
	const publisher = publish(places.url, HlsPlaces.keyOf('lantern-night', 'ridge'));
	await until('the publisher', () => places.placeOf('lantern-night', 'ridge')?.isReceiving);
	expect(places.placeOf('lantern-night', 'valley')).toBeNull();
	expect(places.placeOf('another-night', 'ridge')).toBeNull();
	await publisher.end();
	await until('its end', () => places.placeOf('lantern-night', 'ridge')?.isReceiving === false);
});

it('other applications and names are refused, and bytes that are no RTMP end their connection only', async () => {
	const elsewhere = publish(places.url.replace(/\w+$/, 'live'), 'lantern-night--ridge');
	const nameless = publish(places.url, '../../secret');
	await until('both refusals', () => [elsewhere, nameless].every(({ status }) => status.phase === 'refused'));
	expect(elsewhere.status.fault).toEqual({ code: 'said', about: { words: 'There is no such place.' } });
	await Promise.all([elsewhere.end(), nameless.end()]);

	const rubbish = net.connect(Number(new URL(places.url.replace('rtmp', 'http')).port), '127.0.0.1');
	rubbish.on('error', () => {}).write(Buffer.alloc(4096, 0xff));
	await once(rubbish, 'close');
	const publisher = publish(places.url, HlsPlaces.keyOf('lantern-night', 'members'));
	await until('a publisher after it', () => places.placeOf('lantern-night', 'members')?.isReceiving);
	await publisher.end();
});
