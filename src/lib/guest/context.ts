/** The guest's session, for all components of their page. */
import { createContext } from 'svelte';
import type { GuestSession } from './guest-session.svelte.ts';

export const [useGuest, provideGuest] = createContext<GuestSession>();
