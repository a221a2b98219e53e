import { TextSizeOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './CardEditor.svelte';

export const card: ShownKind<SourceOf<'card'>> = {
	icon: TextSizeOutline,
	name: words.card,
	there: words.madeHere,
	Editor,
};
