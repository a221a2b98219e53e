import { UserOutline } from 'flowbite-svelte-icons';
import { guestIn } from '../../../core/show/guests/guest.ts';
import type { SourceOf } from '../../../core/show/sources/source.ts';
import { kinds as words } from '../../words/index.ts';
import type { ShownKind } from '../kind.ts';
import Editor from './SeatEditor.svelte';

export const seat: ShownKind<SourceOf<'seat'>> = {
	icon: UserOutline,
	name: words.seat,
	inShow: ({ id }, show) => guestIn(show, id)?.name ?? words.seatFree,
	Editor,
};
