import { PaletteOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './ColourEditor.svelte';

export const colour: ShownKind<SourceOf<'colour'>> = {
	icon: PaletteOutline,
	name: words.colourName,
	there: words.madeHere,
	Editor,
};
