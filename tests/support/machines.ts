/**
 * Machines of a test: network namespaces on one bridge, each of which can be cut off. A server on one of them listens on
 * its loopback, as it would on a machine of its own; what carries connections there are processes in between. Only an
 * administrator can make them.
 */
import { execFileSync, fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';

/** A way that connections are carried: where they come, and where they go. */
export interface Way {
	from: { host: string; port: number };
	to: { host: string; port: number };
}

export interface Machine {
	/** On the bridge. */
	address: string;
	/** How a process is started on it. */
	through: { execPath: string; execArgv: string[] };
	carry: (ways: Way[]) => Promise<void>;
	cut: () => void;
	heal: () => void;
}

export const mayMakeMachines = process.getuid?.() === 0;

export async function openMachines(count: number) {
	const ip = (...args: string[]) => execFileSync('ip', args, { stdio: 'pipe' });
	// An interface's name has 15 letters at most.
	const mark = String(process.pid);
	const bridge = `bvb${mark}`;
	// Two tests at once have networks of their own.
	const network = `10.${50 + (process.pid % 150)}.0`;
	const children: ChildProcess[] = [];
	const names = Array.from({ length: count }, (_, i) => `bv${i}-${mark}`);
	async function carry(ways: readonly Way[], through?: Machine['through']): Promise<void> {
		const execArgv = [...(through?.execArgv ?? []), '--import', 'tsx'];
		const file = fileURLToPath(new URL('./carry-process.ts', import.meta.url));
		const child = fork(file, [JSON.stringify(ways)], { ...through, execArgv });
		children.push(child);
		await once(child, 'message');
	}
	ip('link', 'add', bridge, 'type', 'bridge');
	ip('addr', 'add', `${network}.1/24`, 'dev', bridge);
	ip('link', 'set', bridge, 'up');
	const machines = names.map((name, i): Machine => {
		const address = `${network}.${11 + i}`;
		ip('netns', 'add', name);
		ip('link', 'add', name, 'type', 'veth', 'peer', 'name', 'eth0', 'netns', name);
		ip('link', 'set', name, 'master', bridge, 'up');
		ip('-n', name, 'addr', 'add', `${address}/24`, 'dev', 'eth0');
		for (const device of ['eth0', 'lo']) ip('-n', name, 'link', 'set', device, 'up');
		const through = { execPath: '/usr/sbin/ip', execArgv: ['netns', 'exec', name, process.execPath] };
		return {
			address,
			through,
			carry: (ways) => carry(ways, through),
			cut: () => void ip('link', 'set', name, 'down'),
			heal: () => void ip('link', 'set', name, 'up'),
		};
	});
	return {
		/** Of the test itself, on the bridge. */
		bridge: `${network}.1`,
		machines,
		carry,
		close() {
			for (const child of children) child.kill('SIGKILL');
			for (const name of names) ip('netns', 'del', name);
			ip('link', 'del', bridge);
		},
	};
}
