import { ImageOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';

export const still: ShownKind<SourceOf<'still'>> = { icon: ImageOutline, name: words.still };
