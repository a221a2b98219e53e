/** What page and worker of a camera in the network say to each other. */
import type { Gone } from '../../core/ingest/feed.ts';
import type { LineAnswer, LineSignal } from '../../core/ingest/signal.ts';

export type ToNetwork =
	/** Once. @property url of the socket on which the camera's media come */
	| { type: 'open'; url: string }
	/** Where pictures and sound go from now on; null to nobody. */
	| { type: 'show'; picture: MessagePort | null; sound: MessagePort | null }
	| { type: 'answer'; answer: LineAnswer };

export type FromNetwork =
	/** A camera has begun to send by RTMP; or it has ended. */
	| { type: 'begun' }
	| { type: 'gone'; why: Gone }
	/** A step of WHIP. */
	| { type: 'signal'; signal: LineSignal };

/** A piece of decoded sound for the worklet: two sides at 48 kHz. `at` is its time on the camera's clock, in samples. */
export interface SoundPiece {
	at: number;
	left: Float32Array;
	right: Float32Array;
}
