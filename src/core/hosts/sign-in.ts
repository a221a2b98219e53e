/** What a page is told of a host that is signed in to. Nothing secret is in it. */

export type SignInState =
	/** Somebody is on the way, in a browser or with a code. */
	| 'waiting'
	| 'signedIn'
	/** The host has refused, or taken back what it had given: somebody has to sign in again. */
	| 'signInAgain';

export interface SignInTold {
	id: string;
	/** Of the host. */
	name: string;
	state: SignInState;
	/** Ways that the host offers. */
	ways: SignInWay[];
	/** Why the last attempt came to nothing; '' when it did not. */
	problem: string;
}

/** In a browser at the host, or with a code that is typed there on any device. */
export type SignInWay = 'browser' | 'code';

/** What somebody has to do next. */
export type SignInStep =
	{ way: 'browser'; url: string } | { way: 'code'; code: string; url: string; expiresAt: number };

/** A place at a host: the account's own page, a group, a channel. */
export interface SignedPlace {
	id: string;
	name: string;
	maxHeight: number | null;
	maxKbps: number | null;
}
