/** Two builds of Bivvo side by side, as while nodes are replaced one after another. */
import { cp, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { freePort } from '../../command/settings.mjs';
import type { NodeShown } from '../../src/core/nodes/shown.ts';
import { ownDatabase, until } from '../support/app.ts';
import { ask, startTestNodes, type TestNode, type TestNodes } from '../support/nodes.ts';

const IMMUTABLE = '/_app/immutable/chunks';
const ADDED = `${IMMUTABLE}/of-the-next-build.js`;
let dropped: string;
let all: TestNodes;
let later: TestNode;

/** This build again, as if made later: with one file that it did not have, and without one that it had. */
async function nextBuild(folder: string): Promise<typeof import('../../command/nodes.mjs')> {
	for (const part of ['command', 'build', 'package.json', 'src/server/db/migrations'])
		await cp(part, path.join(folder, part), { recursive: true });
	await symlink(path.resolve('node_modules'), path.join(folder, 'node_modules'));
	const client = path.join(folder, 'build/client');
	await writeFile(path.join(client, ADDED), 'export const isNext = true;');
	const [first] = (await readdir(path.join(client, IMMUTABLE))).filter((name) => name.endsWith('.js')).toSorted();
	dropped = `${IMMUTABLE}/${first!}`;
	await rm(path.join(client, dropped));
	const versionFile = path.join(client, '_app/version.json');
	const { version } = JSON.parse(await readFile(versionFile, 'utf8')) as { version: string };
	await writeFile(versionFile, JSON.stringify({ version: String(Number(version) + 3_600_000) }));
	return (await import(
		pathToFileURL(path.join(folder, 'command/nodes.mjs')).href
	)) as typeof import('../../command/nodes.mjs');
}

beforeAll(async () => {
	const databaseUrl = await ownDatabase(inject('databaseUrl'), 'builds');
	all = await startTestNodes(databaseUrl, 2);
	const { startNode } = await nextBuild(path.join(all.folder, 'next build'));
	later = await startNode({
		...{ host: '127.0.0.1', port: await freePort(), cameraPort: null, databaseUrl, redisUrl: all.redis.url },
		...{ data: path.join(all.folder, 'later'), shared: path.join(all.folder, 'shared'), quiet: true },
		env: { BIVVO_LOG: 'info' },
	});
}, 120_000);
afterAll(async () => {
	await later.stop();
	await all.close();
});

it('a page that one build has made gets its files from any node, and the owner sees which node runs which', async () => {
	const [earlier] = all.there as [TestNode];
	const nodes = await until('all to be seen by all', async () => {
		for (const node of [...all.there, later]) {
			const seen = (await ask<{ nodes: NodeShown[] }>(node, '/api/nodes')).nodes;
			if (seen.filter(({ isThere }) => isThere).length < 3) return false;
		}
		return (await ask<{ nodes: NodeShown[] }>(earlier, '/api/nodes')).nodes;
	});
	const built = nodes.map(({ builtAt }) => builtAt!).toSorted((a, b) => a - b);
	expect(built.map((at) => at - built[0]!)).toEqual([0, 0, 3_600_000]);

	const [added, own] = [await fetch(earlier.url + ADDED), await fetch(later.url + ADDED)];
	expect([added.status, await added.text()]).toEqual([200, 'export const isNext = true;']);
	expect(added.headers.get('cache-control')).toBe(own.headers.get('cache-control'));
	expect(added.headers.get('cache-control')).toContain('immutable');
	const asked = await fetch(later.url + dropped);
	expect([asked.status, await asked.text()]).toEqual([200, await readFile(path.join('build/client', dropped), 'utf8')]);
	for (const { url } of [earlier, later]) {
		expect((await fetch(`${url}${IMMUTABLE}/of-no-build.js`)).status).toBe(404);
		expect((await fetch(`${url}/_app/immutable/..%2f..%2f..%2fpackage.json`)).status).toBe(404);
	}
});
