/**
 * Tickets by which a desk sends its program straight to the node that has its event, at an address of that node alone. The
 * desk's cookies are not sent there: who has fetched a ticket where they are known needs none.
 */
import { randomBytes } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Admitted } from '../access/access.ts';

const VALID_MS = 15_000;
const TICKET_BYTES = 18;
const PATH = /^\/uplink\/([a-zA-Z0-9_-]{1,64})\?/;

interface Issued {
	eventId: string;
	admitted: Admitted;
	until: number;
}

export class UplinkTickets {
	readonly #address: string | null;
	readonly #issued = new Map<string, Issued>();

	/** @param address of this node for pages; null where they reach it by others only, and on a server of one */
	constructor(address: string | null) {
		this.#address = address;
	}

	/**
	 * @param admitted whoever asks
	 * @returns where their uplink is to come, once and soon; null where it comes as any other request does
	 */
	issue(eventId: string, admitted: Admitted, now = Date.now()): string | null {
		if (this.#address === null) return null;
		for (const [ticket, { until }] of this.#issued) if (until < now) this.#issued.delete(ticket);
		const ticket = randomBytes(TICKET_BYTES).toString('base64url');
		this.#issued.set(ticket, { eventId, admitted, until: now + VALID_MS });
		return `${this.#address.replace(/^http/, 'ws')}/uplink/${eventId}?ticket=${ticket}`;
	}

	/** True for a request that shows a ticket of this node. */
	has(request: Pick<IncomingMessage, 'url'>): boolean {
		return this.#issued.has(ticketOf(request));
	}

	/** Who has fetched the ticket that a request shows, which is good for nothing after that; null for nobody. */
	take(request: Pick<IncomingMessage, 'url'>, now = Date.now()): Admitted | null {
		const ticket = ticketOf(request);
		const issued = this.#issued.get(ticket);
		this.#issued.delete(ticket);
		const [, eventId] = PATH.exec(request.url ?? '') ?? [];
		if (!issued || issued.until < now || issued.eventId !== eventId) return null;
		return { ...issued.admitted, path: `/uplink/${eventId}` };
	}
}

function ticketOf({ url = '' }: Pick<IncomingMessage, 'url'>): string {
	return new URLSearchParams(url.split('?', 2)[1]).get('ticket') ?? '';
}
