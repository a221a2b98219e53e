import { ClapperboardPlayOutline, MusicOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './ClipEditor.svelte';

export const clip: ShownKind<SourceOf<'clip'>> = { icon: ClapperboardPlayOutline, name: words.clip, Editor };
export const soundClip: ShownKind<SourceOf<'soundClip'>> = {
	icon: MusicOutline,
	name: words.soundClip,
	there: words.ready,
	Editor,
};
