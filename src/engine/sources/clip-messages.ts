/** What the parts of a clip say to each other. */
import type { Clip } from '../../core/show/clips/clip.ts';
import type { Fault } from './fault.ts';
import type { ClipMemory } from './clip-memory.ts';

/** From the page to the clip worker, once. */
export interface ClipOrder {
	clip: Pick<Clip, 'items' | 'repeats' | 'shuffled'>;
	/** Address of a file of the media library, by its id. */
	urls: Record<string, string>;
	memory: ClipMemory;
	/** To the picture worker. */
	port: MessagePort;
}

/** From the clip worker to the page. */
export type FromClipToPage =
	/** The first file can be played. @property size of its picture; null for sound alone */
	{ type: 'opened'; size: { width: number; height: number } | null } | { type: 'failed'; fault: Fault };

/** From the picture worker to the clip worker. */
export type ToClip =
	/**
	 * Get ready at a place on the timeline, milliseconds: its first frame alone, or all that comes as it is played.
	 * `run` names this request in the answers. With `hurry` somebody waits for it; without, the program goes first.
	 */
	| { type: 'prepare'; run: number; positionMs: number; seed: number; ahead: boolean; hurry: boolean }
	/** Somebody waits for what was asked for last. */
	| { type: 'hurry' }
	/** The clip has come so far; what lies behind is not needed any more. */
	| { type: 'reached'; positionMs: number };

/** From the clip worker to the picture worker. */
export type FromClip =
	/** A frame, and where on the timeline it begins. */
	| { type: 'frame'; run: number; frame: VideoFrame; positionMs: number }
	/** The first frame was sent, and sound for a moment is there. */
	| { type: 'ready'; run: number };
