/** Phones of the crew that hear what the desk says: each is connected with the desk as a guest is, and sends nothing. */

/** What tells their names from those of guests, which are made of a link. */
const PREFIX = 'crew-';
/** Phones that hear the desk at a time. */
export const MOST_EARS = 12;

/** @param client the page, by the name that the server has given it */
export function earOf(client: string): string {
	return PREFIX + client;
}

/** The page of an ear; null for a guest. */
export function clientOfEar(id: string): string | null {
	return id.startsWith(PREFIX) ? id.slice(PREFIX.length) : null;
}
