import type { Section } from '../../core/words/song.ts';
import { songs as words } from '../words/index.ts';

/** What a section is called, such as "Verse 2": its number only where there are several of its kind. */
export function sectionName({ kind, number }: Pick<Section, 'kind' | 'number'>): string {
	return `${words.sections[kind]}${number ? ` ${number}` : ''}`;
}
