/** Whose lease decides where a request is answered, for whoever passes it on to the node that has it. */

/** Of what belongs to the organisation and to no event. No event has such an id. */
export const ORGANISATION = '~organisation';

const ID = '([a-zA-Z0-9_-]{1,64})(?:[/?#]|$)';
/** Pages, and what they ask for. */
const REQUEST = new RegExp(`^/(?:api/v1/events|api/events|events|guest)/${ID}`);
/** WebSockets; `/watch/…` without one is a page of viewers. */
const UPGRADE = new RegExp(`^/(?:live|uplink|view|watch|camera|guest)/${ID}`);
/** Any node has it, or finds who has: files of the application, the guide; and what finds its place by itself. */
const ANYWHERE = /^\/(?:_app|health|watch|whip|guide|certificate)(?:[/?#]|$)|^\/(?!__data)[^/?#]+\.[a-z0-9]+(?:[?#]|$)/;

/**
 * @param target as a request names it, such as `/live/lantern-night?page=1`
 * @param isUpgrade for a WebSocket
 * @returns the event's id as it was asked for, or {@link ORGANISATION}; null for what any node answers
 */
export function leaseOf(target: string, isUpgrade: boolean): string | null {
	const event = (isUpgrade ? UPGRADE : REQUEST).exec(target)?.[1];
	if (event !== undefined) return event;
	return isUpgrade || ANYWHERE.test(target) ? null : ORGANISATION;
}
