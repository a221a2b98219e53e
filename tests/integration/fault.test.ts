/** A fault that nobody has caught, in the server as the start command runs it, while a broadcast goes to a host. */
import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { encodeUplink } from '../../src/core/delivery/uplink.ts';
import { Page, testFolder, until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';
import { makeMaterial, play, type Material } from '../support/media.ts';

const EVENT = 'lantern-night';
/** Runs in the server: two faults whenever it is asked for them, one thrown and one that a promise ends with. */
const FAULTS = `process.on('SIGUSR2', () => {
	setTimeout(() => { throw new Error('a fault of its own'); });
	Promise.reject(new Error('a promise of its own'));
})`;

let temporary: Awaited<ReturnType<typeof testFolder>>;
let material: Material;
let demo: Demo;
beforeAll(async () => {
	temporary = await testFolder();
	material = await makeMaterial(temporary.folder);
	demo = await startDemo(undefined, {
		BIVVO_LOG: 'info',
		NODE_OPTIONS: `--import data:text/javascript,${encodeURIComponent(FAULTS)}`,
	});
});
afterAll(async () => {
	await demo.close();
	await temporary.remove();
});

it('is written down, and the broadcast goes on: no host is let go, nobody is asked anything', async () => {
	const port = Number(new URL(demo.url).port);
	const page = new Page(port, EVENT);
	await page.welcome();
	page.send({ type: 'wantEngine', takeOver: true });
	const uplink = new WebSocket(`ws://127.0.0.1:${port}/uplink/${EVENT}?lease=${await page.lease()}&session=one`);
	await until('the uplink', () => uplink.readyState === WebSocket.OPEN);
	await page.applied(page.do({ type: 'startBroadcast', broadcastId: 'evening' }));
	for (const packet of [material.video, material.audio]) uplink.send(encodeUplink(packet));
	const playing = play(material, (packet) => uplink.send(encodeUplink(packet)), 1);
	const pictures = async () => (await demo.place('ridge')).pictures;
	await until('pictures', async () => (await pictures()) > 30);

	const before = demo.serverPid();
	process.kill(before, 'SIGUSR2');
	for (const fault of ['a fault of its own', 'a promise of its own'])
		await until(fault, () => demo.serverSaid().includes(fault));
	const atFault = await pictures();
	await until('more pictures', async () => (await pictures()) > atFault + 60);
	expect(demo.serverPid()).toBe(before);
	expect((await fetch(`${demo.url}/health`)).status).toBe(200);
	expect(page.closed).toBeNull();
	expect(uplink.readyState).toBe(WebSocket.OPEN);
	expect(page.status).toMatchObject({ receiving: true, holdingSince: null });
	// A host that had been let go would have begun another file.
	const kept = await readdir(path.join(demo.folder, 'kept'));
	expect(kept.filter((file) => file.startsWith('ridge-'))).toHaveLength(1);

	playing.stop();
	await page.applied(page.do({ type: 'endBroadcast' }));
	uplink.send(encodeUplink({ kind: 'end' }));
	await until('the end', async () => (await demo.place('ridge')).state === 'ended');
	expect(await demo.place('ridge')).toMatchObject({ backSteps: 0 });
	page.socket.close();
	uplink.close();
});
