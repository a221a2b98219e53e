import type { Value } from '../value.ts';

/** Words of the interface: rehearsal. */
export const rehearsal = {
	rehearsal: (name: Value) => `Rehearsal for ${name}`,
	whatViewersWouldSeeHear: 'What viewers would see and hear. Nobody else does.',
	aboutSecondsBehindDeskAs: (delayS: Value, value: Value) =>
		`It is about ${delayS} to ${value} seconds behind the desk, as it is at a host.`,
	unreachable: 'The server cannot be reached. This page keeps trying.',
	live: 'Live now.',
	waiting: 'Nothing is sent now. This page starts by itself.',
	deskOf: (title: Value) => `Desk of ${title}`,
	rehearsalPage: 'Rehearsal',
};
