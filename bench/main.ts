/** ./bivvo bench [NAME] [--json FILE] */
import { parseArgs } from 'node:util';
import { processorTicks, stolenShare } from '../tests/support/stolen-time.ts';
import { paceMs } from './cores.ts';
import { benchCameras } from './cameras.ts';
import { benchClip } from './clip.ts';
import { benchDelivery } from './delivery.ts';
import { benchDesk } from './desk.ts';
import { benchDisturbed } from './disturbed.ts';
import { benchDrift } from './drift.ts';
import { benchEvening } from './evening.ts';
import { benchGuests, benchManyGuests } from './guests.ts';
import { benchGuestsLine } from './guests-line.ts';
import { benchGuestsSoak } from './guests-soak.ts';
import { benchHands } from './hands.ts';
import { benchMachine } from './machine.ts';
import { benchNodes } from './nodes.ts';
import { benchPicture } from './picture.ts';
import { benchSlice } from './slice.ts';
import { benchSoak } from './soak.ts';
import { benchSound } from './sound.ts';
import { benchStart } from './start.ts';
import { benchWatch } from './watch.ts';
import { finish, type Row } from './table.ts';

const BENCHES: Record<string, { about: string; run: () => Promise<Row[]> }> = {
	picture: {
		about: 'Milliseconds a frame of each picture kernel, against FFmpeg filters on one thread',
		run: benchPicture,
	},
	cameras: {
		about: 'Cameras of the network: from what one sees to the program, by RTMP and by WHIP (about 2 minutes)',
		run: benchCameras,
	},
	watch: {
		about: 'A watch page with five hundred viewers: what they cost, and what desk and host notice (about 2 minutes)',
		run: benchWatch,
	},
	clip: {
		about: 'A 1080p30 clip in the program, against the browser decoding it alone (about 4 minutes)',
		run: benchClip,
	},
	desk: {
		about: 'What looking at a desk costs, by threads (about 2 minutes)',
		run: benchDesk,
	},
	disturbed: {
		about: 'A heavy picture while another process takes half a core now and then (about 4 minutes)',
		run: benchDisturbed,
	},
	drift: {
		about: 'Sound against picture of a clip that plays for an hour (BIVVO_DRIFT_MINUTES)',
		run: benchDrift,
	},
	evening: {
		about: 'An evening’s heaviest picture at 1080p30 and 60: frames and cores (about 4 minutes)',
		run: benchEvening,
	},
	guests: {
		about: 'Guests at a desk: cores, how soon they are seen, sound against picture (about 6 minutes)',
		run: benchGuests,
	},
	'guests-many': {
		about: 'Ten guests, four of them shown, while one comes and goes (about 2 minutes)',
		run: benchManyGuests,
	},
	'guests-line': {
		about: 'A guest whose line loses packets: gaps in their voice, pictures a second (about 3 minutes)',
		run: benchGuestsLine,
	},
	'guests-soak': {
		about: 'An hour in which a guest falls out each minute (BIVVO_SOAK_MINUTES)',
		run: benchGuestsSoak,
	},
	hands: {
		about: 'A press to the hall, to the encoded picture, to a tally light (about 3 minutes)',
		run: benchHands,
	},
	machine: {
		about: 'Whether the test of a machine foretells the share of frames that arrives (about 5 minutes)',
		run: benchMachine,
	},
	nodes: {
		about: 'Sixty events on three nodes against one, and how soon another node follows, thirty times (about 8 minutes)',
		run: benchNodes,
	},
	sound: {
		about: 'The stream mix at its largest: part of a core, and a strip against an FFmpeg chain (about 1 minute)',
		run: benchSound,
	},
	delivery: {
		about: 'One stream to 200 hosts, and with 50 of them not reading: cores, queues, memory (about 1 minute)',
		run: benchDelivery,
	},
	soak: {
		about: `Half an hour with hosts cut off, then the desk's tab killed 100 times (about 55 minutes; BIVVO_SOAK_MINUTES, BIVVO_SOAK_KILLS)`,
		run: benchSoak,
	},
	start: {
		about: 'From the command to a demo, and from opening a desk to live pictures (about 1 minute)',
		run: benchStart,
	},
	slice: {
		about: 'The whole way: frames, cores, key press to host, sound against picture (about 5 minutes)',
		run: benchSlice,
	},
};

const { values, positionals } = parseArgs({ allowPositionals: true, options: { json: { type: 'string' } } });
const [name] = positionals;
const bench = name === undefined ? undefined : BENCHES[name];
if (bench) {
	const [before, pace] = [processorTicks(), await paceMs()];
	const rows = await bench.run();
	process.exitCode = finish(rows, values.json ?? null) ? 0 : 1;
	console.log(`Others on this hardware took ${stolenShare(before).toFixed(0)} % of the time in which it had work.`);
	const [then, now] = [pace, await paceMs()].map((ms) => ms.toFixed(2));
	console.log(`The machine’s own pace: a mix of a 1080p picture took ${then} ms before, ${now} ms after.`);
} else {
	for (const [each, { about }] of Object.entries(BENCHES)) console.log(`  ${each.padEnd(11)} ${about}`);
	if (name !== undefined) process.exitCode = 2;
}
