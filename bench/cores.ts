/** Processor time of processes and all below them, from /proc. */
import { readdirSync, readFileSync } from 'node:fs';

const TICKS_PER_S = 100;

/**
 * How much of the time in which this machine had work others on the same hardware took from it, since `before`, in
 * percent: what was measured meanwhile is worth less by that much. See `man 5 proc`, "steal".
 */
export function stolenShare(before: readonly number[]): number {
	const used = processorTicks().map((ticks, i) => ticks - before[i]!);
	const [idle, waiting, stolen] = [used[3]!, used[4]!, used[7]!];
	const busy = used.slice(0, 8).reduce((sum, ticks) => sum + ticks, 0) - idle - waiting;
	return busy === 0 ? 0 : (100 * stolen) / busy;
}

/** Ticks by kind, of all processors, since the machine was started. */
export function processorTicks(): number[] {
	return readFileSync('/proc/stat', 'utf8').split('\n', 1)[0]!.split(/ +/).slice(1).map(Number);
}

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
