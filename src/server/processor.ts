/** Processor load of this process. */

const LOOK_EVERY_MS = 2000;

let cores = 0;
let before = { at: performance.now(), usage: process.cpuUsage() };
setInterval(() => {
	const at = performance.now();
	const { user, system } = process.cpuUsage(before.usage);
	cores = (user + system) / 1000 / (at - before.at);
	before = { at, usage: process.cpuUsage() };
}, LOOK_EVERY_MS).unref();

/** Processor time of this process in the last two seconds, in cores. */
export function serverCores(): number {
	return cores;
}
