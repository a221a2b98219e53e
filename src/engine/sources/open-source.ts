/** A source as the engine has opened it. */
import type { Size } from '../../core/picture/geometry.ts';
import type { CameraLine } from './camera-line.ts';
import type { ClipMemory } from './clip-memory.ts';
import type { Fault } from './fault.ts';

/** What comes from a guest for a seat. */
export interface SeatMedia {
	picture: MediaStreamTrack | null;
	sound: MediaStreamTrack | null;
}

/** What an opener is given to work with. */
export interface SourceContext {
	audio: AudioContext;
	eventId: string;
	/** Size of the event's picture, which cameras are asked for. */
	picture: { width: number; height: number };
	/** Streams that a person has shared, by source: only a person's press can open one. */
	shares: ReadonlyMap<string, MediaStream>;
	/** What guests send, by the seat that they have been given. */
	seats: ReadonlyMap<string, SeatMedia>;
	/** Cameras of the network, by the source that shows them. */
	cameras: ReadonlyMap<string, CameraLine>;
	/** What the headphones of this machine play, as a stand-in's microphones may hear it. */
	inRoom: AudioNode;
	/** Where a stand-in that must keep time with the engine finds its clock. */
	clock: { control: Int32Array<SharedArrayBuffer>; fps: number; startFrame: Promise<number> };
}

/** Frames of a live source that may wait for the program's frames they belong to; a camera has only so many to give. */
export const MOST_WAITING_FRAMES = 4;

/** A track's frames; those that come while the picture worker is busy are kept, not lost. */
export function framesOf(track: MediaStreamVideoTrack): ReadableStream<VideoFrame> {
	return new MediaStreamTrackProcessor({ track, maxBufferSize: MOST_WAITING_FRAMES }).readable;
}

/** How the picture of a source reaches the picture worker. */
export type OpenPicture =
	| { frames: ReadableStream<VideoFrame> }
	| { port: MessagePort }
	| { image: ImageBitmap }
	| { animation: ArrayBuffer }
	/** Frames come when they are asked for; see clip-messages.ts. */
	| { clip: MessagePort; memory: ClipMemory };

/** A source that runs: its picture, and its sound as a Web Audio node. */
export interface OpenSource {
	picture?: OpenPicture;
	sound?: AudioNode;
	/** How many inputs the sound has; two unless said otherwise. */
	inputs?: number;
	/** The largest picture that it could bring, where it tells. */
	could?: Size | null;
	/** True for a picture that never has a frame: what it brings is heard. */
	isHeard?: boolean;
	/** True for a picture that has to move although its kind may stand still: somebody sits there. */
	mustMove?: boolean;
	/** Called once when the source goes away by itself. */
	onLost: ((fault: Fault) => void) | null;
	close(): void;
}

export type OpenStandIn = (name: string, context: SourceContext) => Promise<OpenSource>;

/** How a source does. */
export interface SourceCondition {
	state: 'opening' | 'live' | 'lost';
	/** Milliseconds since 1970. */
	since: number;
	/** What is wrong, also with a source that is live: it may be black or stand still. Null when nothing is. */
	fault: Fault | null;
	/** Size of its picture in pixels; 0 while that is not known. */
	width: number;
	height: number;
	/** The largest that it could bring, where it tells. */
	could?: Size;
}

/** Size of a source's picture; null while it is not known. */
export function sizeOf(condition: SourceCondition | undefined): Size | null {
	return condition && condition.width > 0 ? { width: condition.width, height: condition.height } : null;
}
