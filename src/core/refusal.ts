/** Why something that somebody asked for is not done. A refusal has a code; sentences are made where it is shown. */
import type { AnyRole } from './access/roles.ts';
import type { AddressProblem } from './delivery/address.ts';

/** Things of a show that can be missing, doubled or too many. */
export type Thing =
	| 'source'
	| 'framing'
	| 'scene'
	| 'background'
	| 'draft'
	| 'person'
	| 'overlay'
	| 'patch'
	| 'channel'
	| 'snapshot'
	| 'destination'
	| 'clip'
	| 'cue'
	| 'due'
	| 'account'
	| 'session'
	| 'link'
	| 'guest'
	| 'seat'
	| 'song'
	| 'macro'
	| 'panel'
	| 'message'
	| 'webhook'
	| 'token'
	| 'surface'
	| 'field'
	| 'template'
	| 'organisation'
	| 'host'
	| 'node';

/** Every refusal by its code, with what its sentence needs. */
export interface Refusals {
	/** Somebody has removed it meanwhile. */
	gone: { what: Thing };
	exists: { what: Thing };
	tooMany: { what: Thing; most: number };
	/** A scene, channel or overlay uses a source that is not there. */
	sourceMissing: { what: Thing };
	locked: { name: string; to: 'change' | 'delete' };
	/** It is in the program, which viewers see. */
	onAir: { name: string };
	pictureFixed: Record<never, never>;
	otherKind: { name: string };
	nextEmpty: Record<never, never>;
	previousEmpty: Record<never, never>;
	nothingToCallBack: Record<never, never>;
	calledBackGone: Record<never, never>;
	leverHalfWay: Record<never, never>;
	/** No cue comes after the current one; there is none before it. */
	sheetOver: Record<never, never>;
	sheetAtStart: Record<never, never>;
	/** Nothing is sung or read after this; nothing before it. */
	wordsOver: Record<never, never>;
	wordsAtStart: Record<never, never>;
	/** The run sheet is locked while on air, until somebody unlocks it. */
	sheetLocked: Record<never, never>;
	alreadyOnAir: Record<never, never>;
	notOnAir: Record<never, never>;
	markerOffAir: Record<never, never>;
	/** Not a command, or one that pages may not send; `problem` says why. */
	invalid: { problem: string };
	/** Another node has the event by now. */
	elsewhere: Record<never, never>;
	/** There is no such event. */
	noEvent: Record<never, never>;
	/** An address is none that a stream can be sent to. */
	address: { problem: AddressProblem };
	/** A host gave such an address. */
	hostAddress: { problem: AddressProblem };
	noAccount: { name: string };
	placeGone: Record<never, never>;
	/** Asked for while on air, which it would disturb. */
	whileOnAir: { what: 'details' | 'test' | 'line' | 'delete' };
	noLineTest: Record<never, never>;
	/** What was asked for is not there. */
	/** A folder for recordings is no absolute path, or cannot be written to. */
	folderUnusable: { folder: string; why: 'path' | 'write' };
	/** The address of a watch page is another one's. */
	slugTaken: { slug: string };
	/** A watch page that asks for a password has none. */
	passwordMissing: Record<never, never>;
	notFound: { what: 'destination' | 'recording' | 'file' | 'source' };
	/** What a host's account said. */
	host: { problem: string };
	/** An internal error; details are in the server's log. */
	fault: Record<never, never>;
	/** A file is no bundle of Bivvo, or is torn or was changed. */
	bundle: { why: 'none' | 'torn' };
	diskFull: Record<never, never>;
	/** The user of the database may not make another one. */
	noOrganisation: Record<never, never>;
	/** What was sealed opens with another passphrase. */
	passphrase: Record<never, never>;
	/** It was stored by a later version of Bivvo than this one. */
	newerVersion: { version: number };
	/** The body of a request does not match its route's schema. */
	/** `field`: its path within the body; empty for the body itself. */
	body: { problem: string; field: string };
	/** The actor's role may not do it; `who` may. */
	forbidden: { who: readonly AnyRole[] };
	/** Nobody is signed in. */
	signInFirst: Record<never, never>;
	/** A login, a password or a code is wrong; which of them is not told. */
	wrongLogin: Record<never, never>;
	/** All is right so far; the code of the second factor is asked for. */
	needsCode: Record<never, never>;
	/** A code that was shown, or one of a second factor. */
	codeWrong: Record<never, never>;
	tooOften: { seconds: number };
	password: { problem: 'short' | 'long' | 'easy'; least: number; most: number };
	loginTaken: { login: string };
	/** Nobody would be owner any more. */
	lastOwner: Record<never, never>;
	/** An invitation, or a link for one event. */
	linkGone: { why: 'unknown' | 'used' | 'expired' | 'revoked' };
	passkey: { problem: 'tooMany' | 'notTaken' | 'known' | 'unknown' | 'needsName' };
	/** A webhook may not lead there. */
	hookAddress: Record<never, never>;
	/** An order that an action cannot be given. */
	order: Record<never, never>;
	/** A command of so many bytes, where `most` are taken. */
	tooLarge: { bytes: number; most: number };
}

export type RefusalCode = keyof Refusals;

/** A refusal as it is sent to a page. */
export type RefusalMessage = { [C in RefusalCode]: { code: C; about: Refusals[C] } }[RefusalCode];

/** Thrown when a request is refused for a reason that the person should read. All other errors are faults. */
export class Refusal extends Error {
	readonly reason: RefusalMessage;

	constructor(reason: RefusalMessage) {
		super(reason.code);
		this.name = 'Refusal';
		this.reason = reason;
	}
}

/** Makes a refusal, to be thrown. */
export function refuse<C extends RefusalCode>(code: C, about: Refusals[C]): Refusal {
	return new Refusal({ code, about } as RefusalMessage);
}
