import { ClockOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './ClockEditor.svelte';

export const clock: ShownKind<SourceOf<'clock'>> = {
	icon: ClockOutline,
	name: words.clock,
	there: words.madeHere,
	Editor,
};
