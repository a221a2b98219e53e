import { DesktopPcOutline } from 'flowbite-svelte-icons';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';

export const screen: ShownKind<SourceOf<'screen'>> = { icon: DesktopPcOutline, name: words.sharedScreen };
