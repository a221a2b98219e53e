/** Nodes, as their owner sees them. */
import type { Value } from '../value.ts';

export const nodes = {
	nodes: 'Nodes',
	hint: 'Each node is Bivvo on one machine. Together they carry all events; when one is gone, the others take over what it had.',
	alone:
		'This Bivvo runs on one machine, and needs nothing else. How several share the work is said in docs/deploy.md.',
	twoVersions: 'Two versions run side by side. That is fine while you replace one node after another.',
	oneLeft: 'Only one node is left: when it is gone, nobody takes its events over.',
	thisOne: 'has made this page',
	there: 'There',
	gone: 'Gone',
	goneHint: 'The others have what it had. Start it again on its machine, and it takes events again.',
	goneKeeps: (count: number) =>
		count === 1
			? 'A recording lies on its disk alone: it is with the others once this node runs again.'
			: `${count} recordings lie on its disk alone: they are with the others once this node runs again.`,
	seen: (ago: Value) => `last seen ${ago} ago`,
	version: (version: Value, since: Value) => `Version ${version}, since ${since}`,
	built: (version: Value, built: Value) => `${version} (built ${built})`,
	cores: 'Processor',
	coresOf: (used: Value, all: Value) => `${used} of ${all} cores`,
	line: 'Line out',
	lineOf: (sends: Value, line: Value) => `${sends} of ${line}`,
	disk: 'Disk',
	diskFree: (bytes: Value) => `${bytes} free`,
	events: (all: number, onAir: number) => {
		const open = all === 0 ? 'No event is open' : all === 1 ? '1 event is open' : `${all} events are open`;
		return onAir === 0 ? `${open}, none on air.` : `${open}, ${onAir} on air.`;
	},
	onAir: 'on air',
	ofOthers: (count: number) =>
		count === 1 ? '1 more of another organisation' : `${count} more of other organisations`,
	emptyAtEnd: 'Empty it gently',
	emptyAtEndHint:
		'It takes no new events. Those off air go to other nodes now, those on air when they end. Nobody notices.',
	emptyNow: 'Empty it now',
	emptyNowHint: 'Viewers of events on air see the holding card for a moment.',
	really: 'Really? Viewers are held for a moment',
	takeAgain: 'Let it take events again',
	emptyingGently: 'Takes no new events. It is empty when those on air have ended.',
	emptyingNow: 'Gives its events to other nodes.',
	handsOver: (count: number) =>
		count === 1
			? 'Gives its last recording to the others; end it after that.'
			: `Gives its last ${count} recordings to the others; end it after that.`,
	empty: 'Empty: it can be ended and replaced.',
	noOther: 'No other node takes events, so this one keeps what it has.',
};
