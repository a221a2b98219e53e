/** A line between a guest and the relay that loses packets, delays them unevenly, or carries nothing for a while. */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';

export interface Weakness {
	/** Part of the packets that are lost each way, 0 to 1; 1 is a line that is torn. */
	loses: number;
	/** Each packet takes from 0 to so many milliseconds longer, so that they overtake each other. */
	unevenMs: number;
}

export interface WeakLine {
	/** Where the guest's browser finds the relay. */
	port: number;
	/** Good at first. */
	be(weakness: Weakness): void;
	close(): void;
}

/**
 * The line is a process of its own: nothing that the test does holds packets up.
 * @param relayPort of the relay on loopback
 */
export async function openWeakLine(relayPort: number): Promise<WeakLine> {
	const line = fork(fileURLToPath(new URL('./weak-line-process.ts', import.meta.url)), [String(relayPort)], {
		execArgv: ['--import', 'tsx'],
	});
	const [port] = (await once(line, 'message')) as [number];
	return {
		port,
		be: (weakness) => void line.send(weakness),
		close: () => void line.kill(),
	};
}
