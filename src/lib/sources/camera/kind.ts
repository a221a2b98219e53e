import { CameraPhotoOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';

export const camera: ShownKind<SourceOf<'camera'>> = { icon: CameraPhotoOutline, name: words.camera };
