/**
 * WHIP, the WebRTC-HTTP ingestion protocol (RFC 9725), as far as it needs no connection: what a request asks for, and what
 * is answered. The peer connection itself is the desk's browser's.
 */
import { parse } from 'sdp-transform';

/** An offer is a few kilobytes, with a hundred addresses to try at most. */
export const MOST_OFFER_BYTES = 64_000;
const MOST_LINES = 1000;

/** What of an offer is known before anybody answers it. */
export interface Offer {
	sdp: string;
	hasPicture: boolean;
	hasSound: boolean;
}

/** Why an offer is refused, with its status (RFC 9725, section 4.2) and a sentence for whoever set the camera up. */
export interface OfferRefused {
	status: 400 | 413 | 422;
	message: string;
}

/** Reads an offer. What a camera may not send, or the desk cannot show, is refused here. */
export function readOffer(sdp: string): Offer | OfferRefused {
	if (sdp.length > MOST_OFFER_BYTES || sdp.split('\n').length > MOST_LINES)
		return { status: 413, message: 'The offer is too large.' };
	if (!sdp.startsWith('v=0')) return { status: 400, message: 'This is no session description (RFC 8866).' };
	let media: readonly { type: string; direction?: string; port: number }[];
	try {
		({ media } = parse(sdp));
	} catch {
		return { status: 400, message: 'The session description cannot be read.' };
	}
	if (!media.every(({ type }) => type === 'video' || type === 'audio'))
		return { status: 422, message: 'The offer holds something else than a picture and a sound.' };
	// RFC 9725, section 4.2: the client sends, and expects nothing to be sent.
	const sends = media.filter(({ direction }) => direction === undefined || direction.startsWith('send'));
	const of = (type: string) => sends.filter((each) => each.type === type).length;
	if (of('video') > 1 || of('audio') > 1 || sends.length === 0)
		return { status: 422, message: 'The offer sends nothing, or more than one picture and one sound.' };
	return { sdp, hasPicture: of('video') === 1, hasSound: of('audio') === 1 };
}

/** The key of a request's Authorization header (RFC 6750, section 2.1); null when there is none. */
export function bearerOf(header: string | undefined): string | null {
	return /^Bearer +([A-Za-z0-9._~+/-]{1,200}=*)$/i.exec(header ?? '')?.[1] ?? null;
}
