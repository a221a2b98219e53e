/** What can be wrong with a source, as codes; sentences are made where they are shown. */
import type { Gone } from '../../core/ingest/feed.ts';

/** Faults by their code, with what their sentence needs. */
export interface Faults {
	/** Of a device: its label. */
	notConnected: { label: string };
	unplugged: { label: string };
	inUse: { label: string };
	/** The browser may not use it. */
	notAllowed: { label: string };
	absent: { label: string };
	/** It is not connected, or not in the size that was asked for. */
	notOffered: { label: string };
	cannotOpen: { label: string; problem: string };
	/** A camera that should bring its own sound has no microphone. */
	noOwnSound: { label: string };
	cannotShare: Record<never, never>;
	/** This page does not make the program. */
	shareElsewhere: Record<never, never>;
	shareRefused: Record<never, never>;
	notShared: Record<never, never>;
	shareEnded: Record<never, never>;
	fileGone: { fileName: string };
	notAPicture: { fileName: string };
	notAnSvg: { fileName: string };
	/** A sentence about a file that cannot be used. */
	file: { problem: string };
	/** This browser cannot decode it. */
	codec: { fileName: string; codec: string };
	/** A file without picture and sound. */
	nothingToPlay: { fileName: string };
	/** A camera of the network that nothing comes from: it has sent nothing yet, has ended, or sends what cannot be used. */
	nothingArrives: Record<never, never>;
	cameraEnded: { why: Gone };
	noStandIn: { name: string };
	/** A stand-in's sound or picture is broken. */
	standInBroken: { problem: string };
	/** Its picture comes in a form that cannot be read. */
	unreadable: { problem: string };
	/** It is there, but nothing new comes. */
	noNewFrames: Record<never, never>;
	black: Record<never, never>;
	frozen: Record<never, never>;
	/** All of it is patched, since it is not certain where its page has gone. */
	pageLost: Record<never, never>;
}

export type FaultCode = keyof Faults;

export type Fault = { [C in FaultCode]: { code: C; about: Faults[C] } }[FaultCode];

/** Thrown when a source cannot be opened, or what it needs is not given. */
export class SourceFault extends Error {
	readonly fault: Fault;

	constructor(fault: Fault) {
		super(fault.code);
		this.name = 'SourceFault';
		this.fault = fault;
	}
}

export function sourceFault<C extends FaultCode>(code: C, about: Faults[C]): SourceFault {
	return new SourceFault({ code, about } as Fault);
}

/** An error as a fault; what is no fault of a source says what it says. */
export function faultOf(error: unknown, label: string): Fault {
	if (error instanceof SourceFault) return error.fault;
	return { code: 'cannotOpen', about: { label, problem: (error as Error).message } };
}
