/** The places at the stand-in host where somebody can publish: made up, each with its own manners. */
import type { Refusal } from '../../src/core/delivery/rtmp/server.ts';
import type { PublishRequest } from '../../src/core/delivery/rtmp/server.ts';

export interface Place {
	/** Application part of its address. */
	app: string;
	name: string;
	key: string;
	/** Proven by challenge and response. */
	login: { user: string; password: string } | null;
	/** Largest picture height and largest rate of sound and picture together. */
	maxHeight: number;
	maxRateKbps: number;
	/** True when viewers see nothing until somebody presses "make public" at the host. */
	needsPublicStep: boolean;
}

export const PLACES: readonly Place[] = [
	{
		app: 'ridge',
		name: 'Ridge Channel',
		key: 'ridge-lantern-1845',
		login: null,
		maxHeight: 1080,
		maxRateKbps: 6000,
		needsPublicStep: false,
	},
	{
		app: 'valley',
		name: 'Valley Relay',
		key: 'valley-lantern-1845',
		login: { user: 'hollin', password: 'carry-the-water' },
		maxHeight: 720,
		maxRateKbps: 1000,
		needsPublicStep: false,
	},
	{
		app: 'members',
		name: 'Members’ Page',
		key: 'members-lantern-1845',
		login: null,
		maxHeight: 720,
		maxRateKbps: 4000,
		needsPublicStep: true,
	},
];

/** Opens the account that posts to all places. */
export const ACCOUNT_CODE = 'hollin-fell-account-1845';

/**
 * Whether a publisher may come in: the place it wants, or the refusal it is told.
 * @param planned keys that were given out for one broadcast each
 */
export function admit(
	places: readonly Place[],
	{ app, key, login }: PublishRequest,
	planned: (app: string) => string | null = () => null,
): Place | Refusal {
	const place = places.find((each) => each.app === app);
	if (!place) return { code: 'NetStream.Publish.Rejected', description: `There is no place called ${app} here.` };
	if (place.login && (login?.user !== place.login.user || login.password !== place.login.password))
		return { code: 'NetStream.Publish.Denied', description: `${place.name} needs its user name and password.` };
	if (place.key !== key && planned(app) !== key)
		return { code: 'NetStream.Publish.BadName', description: `${place.name} does not know this key.` };
	return place;
}

/** What a running stream breaks of its place's caps, in words, or null. */
export function capBroken(place: Place, heightPx: number, rateKbps: number): Refusal | null {
	if (heightPx > place.maxHeight)
		return {
			code: 'NetStream.Publish.Rejected',
			description: `${place.name} takes pictures up to ${place.maxHeight} lines; this one has ${heightPx}.`,
		};
	if (rateKbps > place.maxRateKbps)
		return {
			code: 'NetStream.Publish.Rejected',
			description: `${place.name} takes ${place.maxRateKbps} kbit/s at most; this stream has ${Math.round(rateKbps)}.`,
		};
	return null;
}
