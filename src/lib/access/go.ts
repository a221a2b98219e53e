/** Where somebody goes who is in now. */

/** A page of this server and no other address. */
export function ownPage(asked: string | null): string {
	return asked && /^\/(?![/\\])/.test(asked) ? asked : '/';
}

/** Loads a page anew: who asks is another person than before. */
export function enter(page: string): void {
	location.assign(page);
}

/** The page that a role works on. @param opens another one of the event, that a device was paired for */
export function pageOf(role: string, eventId: string | null, opens = ''): string {
	if (eventId === null) return '/';
	if (opens !== '') return `/events/${eventId}/${opens}`;
	if (role === 'words') return `/events/${eventId}/words`;
	if (role === 'sound') return `/events/${eventId}/mix`;
	return role === 'owner' || role === 'director' ? `/events/${eventId}` : `/events/${eventId}/sheet`;
}
