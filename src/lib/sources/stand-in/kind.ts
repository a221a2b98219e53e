import { CameraPhotoOutline, MicrophoneOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './ConsoleEditor.svelte';

export const standInCamera: ShownKind<SourceOf<'standInCamera'>> = { icon: CameraPhotoOutline, name: 'Camera' };
export const standInConsole: ShownKind<SourceOf<'standInConsole'>> = {
	icon: MicrophoneOutline,
	name: 'Sound',
	there: 'connected',
	Editor,
};
