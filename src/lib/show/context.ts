/** The session of the page, for all components below it. */
import { createContext } from 'svelte';
import type { ShowSession } from './show-session.svelte.ts';

/** `useSession` throws in a component outside a page of an event. */
export const [useSession, provideSession] = createContext<ShowSession>();
