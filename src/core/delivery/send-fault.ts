/** Why a stream is not sent to a destination, as codes; sentences are made where they are shown. */

/** Faults by their code, with what their sentence needs. */
export interface SendFaults {
	/** What is stored is no address. */
	noAddress: Record<never, never>;
	noKey: Record<never, never>;
	/** `where` is host and port. */
	unknownHost: { where: string };
	notListening: { where: string };
	unreachable: { where: string };
	/** It lies in a network that the owner has not opened. */
	outOfReach: { where: string };
	/** It took the connection, and said nothing for so many seconds. */
	noAnswer: { where: string; seconds: number };
	/** Any other error of the network. */
	failed: { where: string; problem: string };
	closed: Record<never, never>;
	broken: Record<never, never>;
	/** It has taken no bytes for so many seconds. */
	takesNothing: { seconds: number };
	/** It does not keep to RTMP. */
	unreadable: { problem: string };
	/** It asks for the login again and again. */
	asksOnAndOn: Record<never, never>;
	loginWanted: Record<never, never>;
	loginWrong: Record<never, never>;
	/** It refuses without a word; `asked` is the call of RTMP. */
	refused: { asked: string };
	/** In the host's own words. */
	said: { words: string };
}

export type SendFaultCode = keyof SendFaults;

export type SendFault = { [C in SendFaultCode]: { code: C; about: SendFaults[C] } }[SendFaultCode];

/** More of a host's words is not kept. */
const LONGEST_WORDS = 300;

/** A host's own words, or that it refused without any. */
export function saidBy(words: unknown, asked: string): SendFault {
	return typeof words === 'string' && words !== ''
		? { code: 'said', about: { words: words.slice(0, LONGEST_WORDS) } }
		: { code: 'refused', about: { asked } };
}
