/**
 * How much of this machine's time others on the same hardware take. Where that is much, nothing is shown or heard in real
 * time, and a test of it tells nothing: it begins when the machine keeps pace again, or when enough was waited.
 */
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import { test } from '@playwright/test';

/** Percent of the time in which there is work. */
const MOST_STOLEN = 25;
/** Percent of one second after which nothing that is live comes in time. */
export const MUCH_STOLEN = 40;
const LOOK_MS = 700;
const AGAIN_MS = 10_000;
/** For one test, and for all of a run, which waits no more once it has taken long anyway. */
const MOST_WAIT_MS = 180_000;
const MOST_OF_A_RUN_MS = 10 * 60_000;
const LONG_RUN_MS = 60 * 60_000;

/** Ticks by kind, of all processors, since the machine was started; see `man 5 proc`. */
export function processorTicks(): number[] {
	return readFileSync('/proc/stat', 'utf8').split('\n', 1)[0]!.split(/ +/).slice(1).map(Number);
}

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

export interface Pace {
	/** The most of one second, in percent; looks no more. */
	worst(): number;
}

/** Looks at it each second from now on: a short time without a processor is as bad for what is live as a long one. */
export function watchPace(): Pace {
	let before = processorTicks();
	let most = 0;
	const look = () => {
		most = Math.max(most, stolenShare(before));
		before = processorTicks();
	};
	const timer = setInterval(look, 1000).unref();
	return {
		worst() {
			clearInterval(timer);
			return most;
		},
	};
}

/** The same now: two processors are given work, since nothing is taken from one that has none. */
async function stolenNow(): Promise<number> {
	const before = processorTicks();
	const busy = `const end = Date.now() + ${LOOK_MS}; while (Date.now() < end);`;
	const workers = [1, 2].map(() => new Worker(busy, { eval: true }));
	await Promise.all(workers.map((worker) => new Promise((resolve) => worker.once('exit', resolve))));
	return stolenShare(before);
}

/** In a test of a browser, waits until this machine keeps pace; elsewhere it returns at once. */
export async function waitForPace(): Promise<void> {
	if (process.env.TEST_WORKER_INDEX === undefined) return;
	const kept = path.join(tmpdir(), `bivvo-waited-${process.env.BIVVO_TESTS_SINCE ?? process.ppid}`);
	const waited = readWaited(kept);
	const startedAt = Date.now();
	const isLong = Date.now() - Number(process.env.BIVVO_TESTS_SINCE ?? Date.now()) > LONG_RUN_MS;
	const limitMs = isLong ? 0 : Math.min(MOST_WAIT_MS, MOST_OF_A_RUN_MS - waited);
	const info = test.info();
	info.setTimeout(info.timeout + Math.max(0, limitMs) + AGAIN_MS);
	for (;;) {
		const stolen = await stolenNow();
		if (stolen <= MOST_STOLEN || Date.now() - startedAt >= limitMs) break;
		console.log(`    Others on this hardware take ${stolen.toFixed(0)} % of this machine; waiting.`);
		await wait(AGAIN_MS);
	}
	writeFileSync(kept, String(waited + Date.now() - startedAt));
}

/** Another run may have had the same number long ago. */
const FORGOTTEN_MS = 2 * 3_600_000;

function readWaited(file: string): number {
	try {
		if (Date.now() - statSync(file).mtimeMs > FORGOTTEN_MS) return 0;
		return Number(readFileSync(file, 'utf8'));
	} catch {
		return 0;
	}
}
