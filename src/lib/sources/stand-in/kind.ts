import { CameraPhotoOutline, MicrophoneOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './ConsoleEditor.svelte';

export const standInCamera: ShownKind<SourceOf<'standInCamera'>> = { icon: CameraPhotoOutline, name: words.camera };
export const standInConsole: ShownKind<SourceOf<'standInConsole'>> = {
	icon: MicrophoneOutline,
	name: words.sound,
	there: words.connected,
	Editor,
};
