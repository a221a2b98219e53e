/** ./bivvo fuzz [MINUTES]: sends rubbish to a demo that runs, and says what came of it. */
import { readFileSync } from 'node:fs';
import { startDemo } from './demo.ts';
import { fuzz, KINDS } from './fuzz.ts';

const minutes = Number(process.argv[2] ?? 10);
if (!(minutes > 0)) {
	console.error('./bivvo fuzz takes a number of minutes, such as ./bivvo fuzz 10.');
	process.exit(2);
}
const ROUND = 200;
const demo = await startDemo();
const target = {
	port: Number(new URL(demo.url).port),
	rtmpPort: demo.rtmpPort,
	eventId: 'lantern-night',
	cookie: '',
};
const residentMb = () =>
	Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${demo.serverPid()}/status`, 'utf8'))?.[1]) / 1024;
const pid = demo.serverPid();
const counts = Object.fromEntries(KINDS.map((kind) => [kind, 0]));
const before = residentMb();
const endsAt = Date.now() + minutes * 60_000;
let seed = Number(process.env.BIVVO_FUZZ_SEED ?? Date.now() % 1e6);
const firstSeed = seed;
let failed = '';
while (Date.now() < endsAt && !failed) {
	for (const kind of KINDS) {
		try {
			await fuzz(kind, target, ROUND, seed);
			const health = await fetch(`${demo.url}/health`);
			if (!health.ok || demo.serverPid() !== pid) throw new Error(`health ${health.status}`);
		} catch (error) {
			failed = `${kind} with seed ${seed}: ${(error as Error).message}`;
			break;
		}
		counts[kind]! += ROUND;
	}
	seed++;
}
for (const [kind, count] of Object.entries(counts)) console.log(`${kind.padEnd(10)} ${count} inputs`);
console.log(
	`seeds ${firstSeed} to ${seed - 1}; memory of the server ${before.toFixed(0)} MB before, ${residentMb().toFixed(0)} MB after`,
);
console.log(failed ? `FAILED: ${failed}` : 'The server answered to the end.');
await demo.close();
process.exitCode = failed ? 1 : 0;
