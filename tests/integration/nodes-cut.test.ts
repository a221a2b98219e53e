/** Nodes on machines of their own: the one that has an event on air is cut off from all others, from hosts and the database. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { freePort } from '../../command/settings.mjs';
import { openDatabase, type Database } from '../../src/server/db/database.ts';
import { commands, eventLeases, nodes as nodeRows } from '../../src/server/db/schema.ts';
import { ownDatabase, until } from '../support/app.ts';
import { openHost, type TestHost } from '../support/host.ts';
import { mayMakeMachines, openMachines } from '../support/machines.ts';
import { makeMaterial } from '../support/media.ts';
import { eventsOnAir, startTestNodes, type StubDesk, type TestNodes } from '../support/nodes.ts';

describe.runIf(mayMakeMachines)('a node that is cut off', () => {
	let all: TestNodes;
	let network: Awaited<ReturnType<typeof openMachines>>;
	let database: Database;
	let host: TestHost;
	let desk: StubDesk;
	beforeAll(async () => {
		const url = await ownDatabase(inject('databaseUrl'), 'cut');
		database = await openDatabase(url, 'src/server/db/migrations');
		host = await openHost();
		network = await openMachines(3);
		const { bridge, machines } = network;
		all = await startTestNodes(url, 0);
		const loopback = (port: number) => ({ host: '127.0.0.1', port });
		const shared = [Number(new URL(url).port), Number(new URL(all.redis.url).port), host.rtmpPort];
		const ports = await Promise.all(machines.map(() => freePort()));
		await network.carry([
			...shared.map((port) => ({ from: { host: bridge, port }, to: loopback(port) })),
			...machines.map(({ address }, i) => ({ from: loopback(ports[i]!), to: { host: address, port: ports[i]! } })),
		]);
		for (const [i, { address, through, carry }] of machines.entries()) {
			const port = ports[i]!;
			await carry([
				{ from: { host: address, port }, to: loopback(port) },
				{ from: loopback(host.rtmpPort), to: { host: bridge, port: host.rtmpPort } },
			]);
			await all.add({
				...{ port, through },
				databaseUrl: url.replace('127.0.0.1', bridge),
				redisUrl: all.redis.url.replace('127.0.0.1', bridge),
				env: { BIVVO_NODE_URL: `http://${address}:${port}` },
			});
		}
		const material = await makeMaterial(all.folder);
		const address = `rtmp://127.0.0.1:${host.rtmpPort}/members`;
		[desk] = (await eventsOnAir(() => all.nodes, 1, address, material)) as [StubDesk];
	}, 180_000);
	afterAll(async () => {
		desk?.leave();
		for (const machine of network.machines) machine.heal();
		await all.close();
		network.close();
		await host.close();
		await database.close();
	});

	const leaseNow = async () =>
		(await database.db.select().from(eventLeases).where(eq(eventLeases.eventId, desk.eventId)))[0]!;
	async function moreProgram(): Promise<void> {
		const { state } = host.desk('members');
		await until('the program', () => desk.bot.page.status?.receiving && desk.bot.page.status.holdingSince === null);
		const from = state.pictures;
		await until('more of it', () => state.pictures > from + 60);
	}

	it('lets go of its event, another one goes on with it, and it takes part again when it is back', async () => {
		await moreProgram();
		const before = await leaseNow();
		const [row] = await database.db.select().from(nodeRows).where(eq(nodeRows.id, before.node));
		const cut = network.machines.findIndex(({ address }) => new URL(row!.url).hostname === address);
		const torn = host.desk('members').current;
		network.machines[cut]!.cut();
		const taken = await until('another owner', async () => {
			const lease = await leaseNow();
			return lease.node !== before.node && lease;
		});
		expect(taken.fence).toBe(before.fence + 1);
		await until('the host', () => ![null, torn].includes(host.desk('members').current));
		await moreProgram();
		const pressed = desk.bot.press({ type: 'renameEvent', title: 'Without it' });
		await until('the name', () => desk.bot.isSettled);

		const connection = host.desk('members').current;
		network.machines[cut]!.heal();
		await until('its answer', async () => {
			const answer = await fetch(`${all.nodes[cut]!.url}/events/${desk.eventId}/recordings`).catch(() => null);
			return answer?.status === 200 && (await answer.text()).includes('Without it');
		});
		await moreProgram();
		expect(host.desk('members').current).toBe(connection);
		expect(await leaseNow()).toMatchObject({ node: taken.node, fence: taken.fence });
		const rows = await database.db.select().from(commands).where(eq(commands.eventId, desk.eventId));
		expect(rows.filter(({ commandId }) => commandId === pressed)).toHaveLength(1);
		expect(desk.bot.refused).toEqual([]);
	});
});
