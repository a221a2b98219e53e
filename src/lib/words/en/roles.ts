/** Roles by name. */
import type { AnyRole } from '../../../core/access/roles.ts';

export const roleNames: Record<AnyRole, string> = {
	owner: 'Owner',
	director: 'Technical director',
	sound: 'Sound',
	words: 'Words',
	viewer: 'Viewer',
	guest: 'Guest',
};

const WHO: Record<AnyRole, string> = {
	owner: 'the owner',
	director: 'the technical director',
	sound: 'whoever mixes the sound',
	words: 'whoever has the words',
	viewer: 'viewers',
	guest: 'guests',
};

/** Such as "the technical director or whoever mixes the sound". */
export function roleList(roles: readonly AnyRole[]): string {
	return new Intl.ListFormat('en', { type: 'disjunction' }).format(roles.map((role) => WHO[role]));
}

/** What each may do, for whoever chooses one. */
export const roleHints: Record<AnyRole, string> = {
	owner: 'Everything, also people, devices and keys',
	director: 'The whole desk, destinations, recordings',
	sound: 'The stream mix',
	words: 'Names and what else is laid over the picture',
	viewer: 'Looks at the run sheet and nothing else',
	guest: 'Comes by a link, for one event',
};
