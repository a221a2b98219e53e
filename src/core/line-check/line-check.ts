/**
 * The line check: whether an evening is ready, line by line. Computed from the show, and from what was seen, heard and tried
 * (facts.ts), so that every page says the same.
 */
import { checkCameras } from './cameras.ts';
import { checkDelivery } from './delivery.ts';
import type { CheckEntry, CheckState } from './entry.ts';
import { checkEvening } from './evening.ts';
import { adder, type Known } from './known.ts';
import { checkMachines } from './machines.ts';
import { checkPeople } from './people.ts';
import { checkSound } from './sound.ts';

/** All lines, group by group, in the order in which one goes through them. */
export function lineCheck(known: Known): CheckEntry[] {
	const entries: CheckEntry[] = [];
	checkCameras(known, adder(entries, 'cameras'));
	checkSound(known, adder(entries, 'sound'));
	checkDelivery(known, adder(entries, 'delivery'));
	checkMachines(known, adder(entries, 'machine'));
	checkEvening(known, adder(entries, 'evening'));
	checkPeople(known, adder(entries, 'people'));
	return entries;
}

/** How many lines are in each state. */
export function tally(entries: readonly CheckEntry[]): Record<CheckState, number> {
	const counts: Record<CheckState, number> = { good: 0, weak: 0, wrong: 0, unseen: 0 };
	for (const { state } of entries) counts[state]++;
	return counts;
}
