import { MicrophoneOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './MicrophoneEditor.svelte';

export const microphone: ShownKind<SourceOf<'microphone'>> = {
	icon: MicrophoneOutline,
	name: words.sound,
	there: words.connected,
	Editor,
};
