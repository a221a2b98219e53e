/** Processor time of processes and all below them, from /proc. */
import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { cpus } from 'node:os';
import type { KernelExports } from '../src/core/picture/planes.ts';

const TICKS_PER_S = 100;
/** Threads that are printed. */
const PRINTED = 12;

/** Bytes of a 1920 × 1080 picture, and how often one is mixed from two of them to tell how fast the machine is. */
const PACE_BYTES = 3_110_400;
const PACE_MIXES = 500;

/**
 * Milliseconds of processor time for one mix of a 1080p picture, now: tells slow code from a slow hour, in which others use
 * the same core's other half without taking any of its time.
 */
export async function paceMs(): Promise<number> {
	const memory = new WebAssembly.Memory({ initial: 2 + Math.ceil((3 * PACE_BYTES) / 65_536), maximum: 4096 });
	const kernels = await readFile('src/core/picture/kernels/build/kernels.wasm');
	const { instance } = await WebAssembly.instantiate(kernels, { env: { memory } });
	const { mix } = instance.exports as unknown as Pick<KernelExports, 'mix'>;
	const [a, b, out] = [0, 1, 2].map((i) => 65_536 + i * PACE_BYTES) as [number, number, number];
	const before = process.cpuUsage();
	for (let i = 0; i < PACE_MIXES; i++) mix(out, a, b, PACE_BYTES, 100);
	const { user, system } = process.cpuUsage(before);
	return (user + system) / 1000 / PACE_MIXES;
}

/** Keeps all threads of a process, and what it starts from now on, on some of the machine's cores. */
export function keepOn(pid: number, cores: 'first' | 'others' | 'all'): void {
	const last = cpus().length - 1;
	const list = cores === 'first' ? '0' : cores === 'all' ? `0-${last}` : `${Math.min(1, last)}-${last}`;
	execFileSync('taskset', ['--all-tasks', '--cpu-list', '--pid', list, String(pid)]);
}

/** Memory of a process, in megabytes. */
export function residentMb(pid: number): number {
	return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;
}

/** Seconds of processor time used so far by a process and its children. */
export function processorSeconds(pid: number): number {
	const ticks = processesBelow(pid).map((each) => {
		try {
			return readStat(`/proc/${each}/stat`).ticks;
		} catch {
			return 0;
		}
	});
	return ticks.reduce((sum, each) => sum + each, 0) / TICKS_PER_S;
}

/** A process, its children, theirs, and so on. */
function processesBelow(pid: number): number[] {
	const parents = new Map<number, number>();
	for (const name of readdirSync('/proc').filter((each) => /^\d+$/.test(each))) {
		try {
			parents.set(Number(name), readStat(`/proc/${name}/stat`).parent);
		} catch {
			// It ended while we looked.
		}
	}
	const below = (each: number): boolean => each === pid || (parents.has(each) && below(parents.get(each)!));
	return [...parents.keys()].filter(below);
}

function readStat(file: string): { name: string; parent: number; ticks: number } {
	const text = readFileSync(file, 'utf8');
	const end = text.lastIndexOf(')');
	const fields = text.slice(end + 2).split(' ');
	const name = text.slice(text.indexOf('(') + 1, end);
	return { name, parent: Number(fields[1]), ticks: Number(fields[11]) + Number(fields[12]) };
}

/**
 * Seconds of processor time so far, by kind of process and name of thread, of a process and all below it. A process's
 * first thread is called `main`. See `man 5 proc`: names are cut to fifteen letters.
 */
export function threadSeconds(pid: number): Map<string, number> {
	const seconds = new Map<string, number>();
	for (const each of processesBelow(pid)) {
		try {
			const kind = /--type=([\w-]+)/.exec(readFileSync(`/proc/${each}/cmdline`, 'utf8'))?.[1] ?? 'browser';
			for (const task of readdirSync(`/proc/${each}/task`)) {
				const { name, ticks } = readStat(`/proc/${each}/task/${task}/stat`);
				const thread = `${kind} ${task === String(each) ? 'main' : name}`;
				seconds.set(thread, (seconds.get(thread) ?? 0) + ticks / TICKS_PER_S);
			}
		} catch {
			// It ended while we looked.
		}
	}
	return seconds;
}

/** Prints which threads took most, in parts of a core. */
export function printThreads(
	before: ReadonlyMap<string, number>,
	after: ReadonlyMap<string, number>,
	elapsedS: number,
): void {
	const cores = [...after].map(([name, s]) => [name, (s - (before.get(name) ?? 0)) / elapsedS] as const);
	for (const [name, share] of cores.sort(([, a], [, b]) => b - a).slice(0, PRINTED))
		console.log(`  ${name.padEnd(36)} ${share.toFixed(3)}`);
}
