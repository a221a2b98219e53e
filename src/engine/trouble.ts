/** What can be wrong with the engine, as codes; sentences are made where they are shown. */

export interface Troubles {
	/** A worker stopped. */
	partStopped: { problem: string };
	/** Anything else that stops the picture. */
	failed: { problem: string };
	pictureEncoding: { problem: string };
	soundEncoding: { problem: string };
	noCanvas: Record<never, never>;
	headphonesGone: Record<never, never>;
	headphones: { problem: string };
	delayNotMeasured: { problem: string };
	/** The page has no shared memory. */
	notIsolated: Record<never, never>;
	noEncoder: Record<never, never>;
	/** The connection that carries the program is lost; `problem` may be empty. */
	serverLost: { problem: string };
	/** @property relief step of what is given up, 1 to 3 @property load part of a frame's time that was spent on it */
	busy: { relief: number; load: number };
	/** Something was asked of an engine that has been closed meanwhile. */
	closed: Record<never, never>;
	/** A channel that should be listened to has no sound. */
	channelSilent: Record<never, never>;
}

export type TroubleCode = keyof Troubles;
export type Trouble = { [C in TroubleCode]: { code: C; about: Troubles[C] } }[TroubleCode];

/** Parts that can have a trouble of their own. */
export type EnginePart = 'engine' | 'uplink' | 'machine';

/** Thrown where the engine cannot do what it is asked for. */
export class EngineFailure extends Error {
	readonly trouble: Trouble;

	constructor(trouble: Trouble) {
		super(trouble.code);
		this.name = 'EngineFailure';
		this.trouble = trouble;
	}
}

export function engineFailure<C extends TroubleCode>(code: C, about: Troubles[C]): EngineFailure {
	return new EngineFailure({ code, about } as Trouble);
}

/** An error as a trouble of the engine. */
export function troubleOf(error: unknown): Trouble {
	if (error instanceof EngineFailure) return error.trouble;
	return { code: 'failed', about: { problem: (error as Error).message } };
}
