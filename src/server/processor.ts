/** How busy this process is. */

const LOOK_EVERY_MS = 2000;

let cores = 0;
let before = { at: performance.now(), usage: process.cpuUsage() };
setInterval(() => {
	const at = performance.now();
	const { user, system } = process.cpuUsage(before.usage);
	cores = (user + system) / 1000 / (at - before.at);
	before = { at, usage: process.cpuUsage() };
}, LOOK_EVERY_MS).unref();

/** Cores that this process has taken in the last two seconds; one is all of one. */
export function serverCores(): number {
	return cores;
}
