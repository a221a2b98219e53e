/** What is wrong with a line of the run sheet, in a sentence. */
import type { Conflict } from '../../../core/show/runsheet/missing.ts';
import { clockOf } from './figures.ts';
import { runsheet as words } from './runsheet.ts';

export function conflictWords(conflict: Conflict): string {
	const span = (ms: number) => clockOf(Math.ceil(ms / 1000));
	switch (conflict.is) {
		case 'gone':
			return words.gone[conflict.what];
		case 'fileGone':
		case 'showsAndHides':
		case 'mutesAndOpens':
			return words[conflict.is](conflict.name);
		case 'neverOver':
			return words.neverOver[conflict.why];
		case 'twoHeard':
		case 'twoNamed':
			return words[conflict.is](conflict.name, conflict.other);
		case 'late':
		case 'tooLong':
			return words[conflict.is](span(conflict.ms));
	}
}
