/** How a source is, in a few words. */
import type { Source } from '../../../core/show/sources/source.ts';
import { shownKindOf } from '../../sources/kinds.ts';
import { faultShort, sources as words } from '../../words/index.ts';
import type { DeskSession } from '../desk-session.svelte.ts';

export function conditionWords({ conditions, isWatching, state }: DeskSession, source: Source): string {
	const { inShow, there } = shownKindOf(source);
	if (inShow) return inShow(source, state);
	const condition = conditions.get(source.id);
	if (!condition) return isWatching ? words.openInOtherTab : '…';
	if (condition.state === 'opening') return words.opening;
	if (condition.state === 'lost') return words.lost;
	if (condition.fault) return `▲ ${faultShort(condition.fault).toLowerCase()}`;
	return there ?? `${condition.width} × ${condition.height}`;
}
