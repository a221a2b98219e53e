/** Processor time of processes and all below them, from /proc. */
import { readdirSync, readFileSync } from 'node:fs';

const TICKS_PER_S = 100;

/** Seconds of processor time used so far by a process and its children. */
export function processorSeconds(pid: number): number {
	const parents = new Map<number, number>();
	const ticks = new Map<number, number>();
	for (const name of readdirSync('/proc').filter((each) => /^\d+$/.test(each))) {
		try {
			const text = readFileSync(`/proc/${name}/stat`, 'utf8');
			const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
			parents.set(Number(name), Number(fields[1]));
			ticks.set(Number(name), Number(fields[11]) + Number(fields[12]));
		} catch {
			// It ended while we looked.
		}
	}
	const below = (each: number): boolean => each === pid || (parents.has(each) && below(parents.get(each)!));
	return [...ticks].reduce((sum, [each, used]) => sum + (below(each) ? used : 0), 0) / TICKS_PER_S;
}
