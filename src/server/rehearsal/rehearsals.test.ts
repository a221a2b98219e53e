import net from 'node:net';
import { once } from 'node:events';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { until } from '../../../tests/support/app.ts';
import { Publisher } from '../broadcast/publisher.ts';
import { orderTo } from '../../../tests/support/order.ts';
import { Rehearsals } from './rehearsals.ts';

let rehearsals: Rehearsals;
beforeAll(async () => void (rehearsals = await Rehearsals.open()));
afterAll(() => rehearsals.close());

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
	const publisher = publish(rehearsals.url, Rehearsals.keyOf('lantern-night', 'ridge'));
	await until('the publisher', () => rehearsals.placeOf('lantern-night', 'ridge')?.isReceiving);
	expect(rehearsals.placeOf('lantern-night', 'valley')).toBeNull();
	expect(rehearsals.placeOf('another-night', 'ridge')).toBeNull();
	await publisher.end();
	await until('its end', () => rehearsals.placeOf('lantern-night', 'ridge')?.isReceiving === false);
});

it('other applications and names are refused, and bytes that are no RTMP end their connection only', async () => {
	const elsewhere = publish(rehearsals.url.replace('rehearsal', 'live'), 'lantern-night--ridge');
	const nameless = publish(rehearsals.url, '../../secret');
	await until('both refusals', () => [elsewhere, nameless].every(({ status }) => status.phase === 'refused'));
	expect(elsewhere.status.fault).toEqual({ code: 'said', about: { words: 'There is no such rehearsal.' } });
	await Promise.all([elsewhere.end(), nameless.end()]);

	const rubbish = net.connect(Number(new URL(rehearsals.url.replace('rtmp', 'http')).port), '127.0.0.1');
	rubbish.on('error', () => {}).write(Buffer.alloc(4096, 0xff));
	await once(rubbish, 'close');
	const publisher = publish(rehearsals.url, Rehearsals.keyOf('lantern-night', 'members'));
	await until('a publisher after it', () => rehearsals.placeOf('lantern-night', 'members')?.isReceiving);
	await publisher.end();
});
