/** The desk's session, for all components of the desk. */
import { createContext } from 'svelte';
import { provideSession } from '../show/context.ts';
import type { DeskSession } from './desk-session.svelte.ts';

const [useDesk, provideDeskOnly] = createContext<DeskSession>();

/** Throws in a component outside the desk. */
export { useDesk };

/** Gives the session also to components that work on any page of an event. */
export function provideDesk(session: DeskSession): DeskSession {
	provideSession(session);
	return provideDeskOnly(session);
}
