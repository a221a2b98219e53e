/** Events in the order in which one looks for them. */

interface Line {
	title: string;
	/** ISO 8601 local time without zone, or empty. */
	startsAt: string;
	archivedAt: number | null;
}

/** An evening is the next one until so long after its start. */
const LASTS_MS = 6 * 3_600_000;

export interface Sorted<E> {
	next: E | null;
	/** By date, those without one last. */
	coming: E[];
	/** The last one first. */
	past: E[];
	archived: E[];
}

/**
 * @param now milliseconds since 1970
 * @param search in titles; '' for all
 */
export function sortEvents<E extends Line>(events: readonly E[], now: number, search = ''): Sorted<E> {
	const wanted = search.trim().toLowerCase();
	const found = events.filter(({ title }) => title.toLowerCase().includes(wanted));
	const seen = found.filter(({ archivedAt }) => archivedAt === null);
	const startOf = ({ startsAt }: E) => (startsAt === '' ? Infinity : new Date(startsAt).getTime());
	const isOver = (event: E) => startOf(event) + LASTS_MS < now;
	const coming = seen.filter((event) => !isOver(event)).toSorted((a, b) => sign(startOf(a), startOf(b)));
	const first = coming[0] && startOf(coming[0]) < Infinity ? coming[0] : null;
	// What is looked for is found in its list.
	const next = wanted === '' ? first : null;
	return {
		next,
		coming: coming.filter((event) => event !== next),
		past: seen.filter(isOver).toSorted((a, b) => sign(startOf(b), startOf(a))),
		archived: found.filter(({ archivedAt }) => archivedAt !== null),
	};
}

function sign(a: number, b: number): number {
	return a === b ? 0 : a < b ? -1 : 1;
}
