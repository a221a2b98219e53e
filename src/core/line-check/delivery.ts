/** Where it goes: hosts that were asked, keys and titles that are of today, a line that carries it, a disk that keeps it. */
import { hasAccount } from '../show/delivery/destination.ts';
import type { SendFault } from '../delivery/send-fault.ts';
import { judgeLine, planDelivery } from '../show/delivery/delivery.ts';
import { filled } from '../show/event/fields.ts';
import { dayOf } from '../show/runsheet/clock-time.ts';
import { eveningMs } from '../show/runsheet/plan.ts';
import type { Destination, ShowState } from '../show/state.ts';
import { isFresh, type Add, type Known } from './known.ts';

/** Kept free beyond what the evening needs. */
const SPARE_ROOM = 1.25;
/** What is typed anew in a destination's form; after anything else the host is asked again. */
const OF_ITS_FORM: readonly SendFault['code'][] = [
	...(['noAddress', 'noKey', 'unknownHost', 'outOfReach', 'loginWanted', 'loginWrong', 'refused', 'said'] as const),
];
const UNKNOWN_LENGTH_MS = 3 * 3_600_000;

export function checkDelivery(known: Known, add: Add): void {
	const { show } = known;
	const ticked = show.setup.destinations.filter((destination) => destination.ticked);
	if (ticked.length === 0) add('none', 'wrong', { is: 'noDestination' }, { mend: { does: 'open', page: 'prepare' } });
	for (const destination of ticked) checkDestination(known, destination, add);
	checkLine(known, ticked.length > 0, add);
	checkRecording(known, add);
}

function checkDestination({ show, facts, keys, now }: Known, destination: Destination, add: Add): void {
	const { id, name } = destination;
	const fact = facts.destinations[id];
	const test = { does: 'testDestination', destinationId: id } as const;
	const key = keys.get(id);
	// Another key was not asked about.
	const isOfOldKey = fact && key && key.typedAt > fact.at;
	if (!fact || isOfOldKey || !isFresh(fact.at, now))
		add(id, 'unseen', { is: 'destination', name, tested: false }, { mend: test });
	else if (fact.fault) {
		const mend = OF_ITS_FORM.includes(fact.fault.code) ? ({ ...test, does: 'editDestination' } as const) : test;
		add(id, 'wrong', { is: 'destinationFault', name, fault: fact.fault }, { at: fact.at, mend });
	} else add(id, 'good', { is: 'destination', name, tested: true }, { at: fact.at });
	// Many hosts give a key for each stream; one that was used is refused then, or shows under the old title.
	if (key && !destination.keyLasts && key.sentAt > key.typedAt)
		add(`${id} key`, 'weak', { is: 'oldKey', name }, { mend: { does: 'editDestination', destinationId: id } });
	checkDetails(show, destination, now, add);
	if (hasAccount(destination)) add(`${id} public`, 'weak', { is: 'publicStep', name });
}

/** Title and time that viewers see at the host are those of this evening. */
function checkDetails({ setup }: ShowState, destination: Destination, now: number, add: Add): void {
	const { id, name, details } = destination;
	if (!hasAccount(destination)) return;
	const mend = { does: 'editDetails', destinationId: id } as const;
	if (details === null) return add(`${id} details`, 'unseen', { is: 'detailsNone', name }, { mend });
	const { title, plannedAt } = details;
	const starts = setup.startsAt;
	const isOtherDay = plannedAt !== '' && starts !== '' && plannedAt.slice(0, 10) !== starts.slice(0, 10);
	if (isOtherDay || (plannedAt !== '' && isPast(plannedAt, setup.timeZone, now)))
		return add(`${id} details`, 'wrong', { is: 'detailsDay', name, plannedAt }, { mend });
	const wanted = filled(setup.hostTitle, setup.fields) || setup.title;
	if (title.trim() !== wanted.trim()) return add(`${id} details`, 'weak', { is: 'detailsOld', name, title }, { mend });
	add(`${id} details`, 'good', { is: 'details', name, title });
}

/** True for a local time of a day before today. */
function isPast(local: string, zone: string, now: number): boolean {
	return local.slice(0, 10) < dayOf(now, zone);
}

function checkLine({ show, now }: Known, isSent: boolean, add: Add): void {
	if (!isSent) return;
	const plan = planDelivery(show);
	for (const warning of plan.warnings)
		if (warning.is === 'overCap') add(`cap ${warning.name}`, 'wrong', { is: 'overCap', warning });
	const { totalKbps, allowedKbps } = plan;
	const newest = show.live.lines.at(-1);
	const mend = { does: 'measureLine' } as const;
	if (!newest || !isFresh(newest.at, now)) return add('line', 'unseen', { is: 'lineUnseen' }, { mend });
	const { at } = newest;
	const { kbps, steady } = judgeLine(newest);
	if (!steady) add('line', 'weak', { is: 'lineUnsteady', kbps }, { at, mend });
	else if (allowedKbps !== null && totalKbps > allowedKbps)
		add('line', 'wrong', { is: 'lineFull', kbps, totalKbps }, { at, mend });
	else add('line', 'good', { is: 'line', kbps, totalKbps }, { at, mend });
}

function checkRecording({ show, roomS, now }: Known, add: Add): void {
	const { delivery } = show.setup;
	const on = { ...delivery, records: true };
	if (!delivery.records)
		return add(
			'recording',
			'weak',
			{ is: 'recordingOff' },
			{
				mend: { does: 'command', command: { type: 'setDelivery', delivery: on } },
			},
		);
	const wantedS = Math.round((SPARE_ROOM * (eveningMs(show) ?? UNKNOWN_LENGTH_MS)) / 1000);
	if (roomS !== null && roomS < wantedS)
		return add('recording', 'wrong', { is: 'littleRoom', roomS, wantedS }, { at: now });
	add('recording', roomS === null ? 'unseen' : 'good', { is: 'recording', roomS }, { at: roomS === null ? null : now });
}
