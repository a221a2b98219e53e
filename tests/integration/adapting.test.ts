import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Recording } from '../../src/server/broadcast/recording.ts';
import { Stream } from '../../src/server/broadcast/stream.ts';
import { testFolder, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { makeMaterial, type Material } from '../support/media.ts';
import { orderTo } from '../support/order.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let host: TestHost;
beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder);
	host = await openHost();
});
afterAll(async () => {
	await host.close();
	await temporary.remove();
});

it('the rate steps down while a host cannot follow, and up again when it has followed for long', async () => {
	const order = orderTo(`rtmp://127.0.0.1:${host.rtmpPort}/ridge`, 'ridge-lantern-1845');
	const recording = new Recording(path.join(temporary.folder, 'adapting.mp4'), () => {});
	const stream = new Stream([order], 1500, recording, () => {});
	stream.configure(material.video, material.audio);
	await until('live', () => stream.publishers[0]!.status.phase === 'live');
	let now = Date.now();
	expect(stream.measure(now)).toBeNull();

	// The host stops reading. What the system itself takes for it is not ours to see.
	host.desk('ridge').current!.pause();
	const big = new Uint8Array(200_000);
	for (const packet of material.packets.slice(0, 200))
		stream.push(packet.kind === 'video' ? { ...packet, data: big } : packet);
	expect(stream.measure((now += 1000))).toBe(1050);
	expect(stream.measure((now += 1000)), 'a step is given time').toBeNull();
	expect(stream.measure((now += 4000))).toBe(735);
	expect(stream.rate).toEqual({ kbps: 735, plannedKbps: 1500 });

	host.desk('ridge').current!.resume();
	await until('an empty queue', () => (stream.measure(now), stream.publishers[0]!.status.queueBytes === 0));
	expect(stream.measure((now += 5000))).toBeNull();
	expect(stream.measure((now += 21_000))).toBe(882);
	expect(stream.measure((now += 21_000))).toBe(1058);
	await stream.end();
	await recording.end();
});
