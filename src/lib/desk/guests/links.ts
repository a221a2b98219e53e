/** Links by which guests come. */
import { askServer } from '../../ui/ask.ts';

const DAY_MS = 86_400_000;
/** Of a new link: a phone, a laptop, and once more when one of them is lost. */
const [USES, DAYS] = [5, 2];

/** Makes a link for one guest. @returns its secret, which is told this once, or what went wrong */
export function makeGuestLink(eventId: string, name: string) {
	const order = { name, role: 'guest', expiresAt: Date.now() + DAYS * DAY_MS, uses: USES };
	return askServer<{ id: string; secret: string }>(`/api/events/${eventId}/links`, 'POST', order);
}
