/** Jumps to a part of a song by the first letter of its name. */
import type { Cut } from '../../core/words/cutting.ts';
import type { Section } from '../../core/words/song.ts';

/**
 * @param step that stands
 * @param key as a keyboard event names it
 * @param nameOf a section, as it is shown
 * @returns the first step of the next section whose name begins with that letter, from the beginning again after the last; null when
 *   there is none
 */
export function nextSection(cut: Cut, step: number, key: string, nameOf: (section: Section) => string): number | null {
	if (key.length !== 1) return null;
	const here = cut.steps[step]?.section ?? (step < 0 ? -1 : cut.sections.length);
	const begins = cut.sections.flatMap((section, index) =>
		nameOf(section).toLowerCase().startsWith(key.toLowerCase()) ? [index] : [],
	);
	const found = begins.find((index) => index > here) ?? begins[0];
	if (found === undefined) return null;
	const first = cut.steps.findIndex(({ section }) => section === found);
	return first < 0 ? null : first;
}

/** The first step of the part that stands, for who sings it again; null when none stands. */
export function partAgain(cut: Cut, step: number): number | null {
	const here = cut.steps[step]?.section;
	return here === undefined ? null : cut.steps.findIndex(({ section }) => section === here);
}

/** The first step of the part after the one that stands, for who leaves the rest of it out; null after the last. */
export function partAfter(cut: Cut, step: number): number | null {
	const here = cut.steps[step]?.section ?? (step < 0 ? -1 : Infinity);
	const found = cut.steps.findIndex(({ section }) => section > here);
	return found < 0 ? null : found;
}
