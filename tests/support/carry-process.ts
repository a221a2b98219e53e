/** Carries connections from one address to another, see machines.ts. */
import net from 'node:net';
import type { Way } from './machines.ts';

const ways = JSON.parse(process.argv[2]!) as Way[];
await Promise.all(
	ways.map(({ from, to }) => {
		const server = net.createServer((one) => {
			const other = net.connect(to.port, to.host);
			for (const socket of [one, other]) {
				socket.setNoDelay(true);
				socket.on('error', () => {});
			}
			one.on('close', () => other.destroy());
			other.on('close', () => one.destroy());
			one.pipe(other).pipe(one);
		});
		return new Promise<void>((resolve) => server.listen(from.port, from.host, resolve));
	}),
);
process.send!('ready');
process.on('disconnect', () => process.exit());
