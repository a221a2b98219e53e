import { TextSizeOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './CardEditor.svelte';

export const card: ShownKind<SourceOf<'card'>> = { icon: TextSizeOutline, name: 'Card', there: 'made here', Editor };
