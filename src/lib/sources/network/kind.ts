import { VideoCameraOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './NetworkEditor.svelte';

export const network: ShownKind<SourceOf<'network'>> = { icon: VideoCameraOutline, name: words.networkCamera, Editor };
