/**
 * A relay for guests whose network lets nothing else through: servers of TURN (RFC 8656), with credentials that are good for
 * a while only. The relay and this server share a secret ("A REST API For Access To TURN Services",
 * draft-uberti-behave-turn-rest-00); a guest gets no more than a signed time.
 */
import { createHmac } from 'node:crypto';
import type { IceServer } from '../../core/guests/messages.ts';

/** Longer than an evening: a connection that is made anew is given new ones. */
const LASTS_S = 12 * 3600;
/** Of RFC 7065, with the transport that is asked for. */
const URL_OF_RELAY = /^turns?:[^\s?]+(\?transport=(udp|tcp))?$/;

export interface RelayOptions {
	/** Such as `turn:relay.example.org:3478`; none for no relay. */
	urls: readonly string[];
	secret: string;
}

/** @throws with a sentence when it is not as it should be */
export function checkRelay({ urls, secret }: RelayOptions): void {
	const wrong = urls.find((url) => !URL_OF_RELAY.test(url));
	if (wrong !== undefined)
		throw new Error(`BIVVO_TURN_URL has ${wrong}, which is no relay. Write it like turn:relay.example.org:3478.`);
	if (urls.length > 0 && secret === '')
		throw new Error('BIVVO_TURN_SECRET is not set. It is the static-auth-secret of the relay in BIVVO_TURN_URL.');
}

/**
 * What a browser needs to use the relay. Without a transport named, both are offered.
 * @param who names whom the credentials are for, in the relay's log; without blanks, which relays refuse
 * @param now milliseconds since 1970
 */
export function relayServers({ urls, secret }: RelayOptions, who: string, now: number): IceServer[] {
	if (urls.length === 0) return [];
	const username = `${Math.floor(now / 1000) + LASTS_S}:${who}`;
	const credential = createHmac('sha1', secret).update(username).digest('base64');
	const offered = urls.flatMap((url) => (url.includes('?') ? [url] : [`${url}?transport=udp`, `${url}?transport=tcp`]));
	return [{ urls: offered, username, credential }];
}
