/** Several nodes on one machine. */
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { startServer } from './processes.mjs';
import { Problem } from './say.mjs';

export const MOST_NODES = 9;

/**
 * The number behind `--nodes`; 1 where it is not said.
 * @param {string[]} args
 */
export function nodesOf(args) {
	const at = args.indexOf('--nodes');
	if (at < 0) return 1;
	const count = Number(args[at + 1]);
	if (!Number.isInteger(count) || count < 1 || count > MOST_NODES)
		throw new Problem(`--nodes takes a number from 1 to ${MOST_NODES}, such as --nodes 3.`);
	return count;
}

/**
 * @typedef {Parameters<typeof startServer>[0]} ServerOptions
 * @typedef {{ data: string, shared: string, redisUrl: string, port: number, cameraPort: number | null, isStraight?: boolean } & Omit<ServerOptions, 'data' | 'port'>} NodeOptions
 */

/**
 * Starts a node, and waits until it answers.
 * @param {NodeOptions} options data: what only this node has; shared: what all have; isStraight: desks reach this very node
 */
export function startNode({ data, shared, redisUrl, cameraPort, isStraight = false, env = {}, ...server }) {
	for (const folder of [data, shared]) mkdirSync(folder, { recursive: true });
	return startServer({
		...server,
		data,
		env: {
			BIVVO_SHARED: shared,
			REDIS_URL: redisUrl,
			BIVVO_NODE_URL: `http://${server.host}:${server.port}`,
			...(isStraight ? { BIVVO_NODE_PUBLIC_URL: `http://${server.host}:${server.port}` } : {}),
			BIVVO_CAMERA_PORT: cameraPort === null ? 'none' : String(cameraPort),
			...env,
		},
	});
}

/**
 * Starts several, the first one first: it makes the tables, and the demo.
 * @param {Omit<NodeOptions, 'data'> & { count: number, folder: string }} options port: of the first; folder: with one for each
 */
export async function startNodes({ count, folder, port, cameraPort, minutesToStart, ...rest }) {
	/** @param {number} i */
	const nth = (i) =>
		startNode({
			...rest,
			isStraight: true,
			port: port + i,
			data: path.join(folder, String(i + 1)),
			cameraPort: i === 0 ? cameraPort : null,
			...(i === 0 && minutesToStart !== undefined ? { minutesToStart } : {}),
		});
	const first = await nth(0);
	return [first, ...(await Promise.all(Array.from({ length: count - 1 }, (_, i) => nth(i + 1))))];
}
