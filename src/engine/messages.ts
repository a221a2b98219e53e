/** What page and workers of the engine say to each other. */
import type { Fit, Step } from '../core/words/cutting.ts';
import type { Yuv } from '../core/picture/colour.ts';
import type { Size } from '../core/picture/geometry.ts';
import type { Source } from '../core/show/sources/source.ts';
import type { PictureFault } from '../core/picture/health.ts';
import type { Motion } from '../core/sound/clap.ts';
import type { Scene } from '../core/show/scenes/scene.ts';
import type { Live, Picture, Setup } from '../core/show/state.ts';
import type { Hall } from '../core/show/words/words.ts';
import type { ClipMemory } from './sources/clip-memory.ts';
import type { View } from '../core/watch/views.ts';
import type { SharedMemory, TrackMemory } from './shared.ts';
import type { Encoded } from './picture/renditions.ts';
import type { Sample } from './picture/sampling.ts';
import type { Trouble } from './trouble.ts';

/** The part of the show that the picture is made from. */
export type PicturePlan = {
	/** The card that viewers see while the program is away. */
	holding: Source;
	/** The scene of the run sheet’s next cue, whose clips get ready. */
	coming: Scene['id'] | null;
	/** The scene that guests may see. */
	forGuests: Scene['id'] | null;
	/** What the hall's screen shows behind its words: the program, a scene of its own, or nothing. */
	hall: Hall['behind'];
	/** The line of words that stands, and the one that comes, which is drawn beforehand. */
	line: Step | null;
	comingLine: Step | null;
	/** How their languages stand. */
	languages: Fit['languages'];
} & Pick<
	Setup,
	| 'title'
	| 'startsAt'
	| 'timeZone'
	| 'sources'
	| 'scenes'
	| 'background'
	| 'people'
	| 'look'
	| 'overlays'
	| 'patches'
	| 'transition'
> &
	Pick<Live, 'drafts' | 'program' | 'next' | 'take' | 'lever' | 'black' | 'shown' | 'transports'>;

/** Where each view goes that is watched. */
export type ViewUrls = { readonly [V in View]?: string };

/** What happens by itself at a time or at a clip's end, to the frame, and the show as it is then. */
export interface Armed {
	/** Of the entry under `live.due`. */
	dueId: string;
	/** Milliseconds since 1970, by the server's clock. */
	at: number;
	/** The clip whose last frame is waited for instead. */
	clipId: string | null;
	/** True when the broadcast ends with it: the frame before is the last that is encoded. */
	ends: boolean;
	plan: PicturePlan;
}

/**
 * What a monitor on the desk shows: a bus, a scene as viewers would get it or with its changes, how opaque one of its
 * layers is, a source alone.
 */
export type MonitorSubject =
	| { bus: 'program' | 'next' }
	| { sceneId: Scene['id']; changed?: boolean; opacityOf?: string | null }
	| { sourceId: string };

export type ToPicture =
	| { type: 'start'; memory: SharedMemory; picture: Picture; kernelUrls: string[]; questions: MessagePort }
	/** @property heard how often the page has heard that something was done by itself */
	| { type: 'plan'; plan: PicturePlan; heard: number }
	| { type: 'arm'; armed: Armed | null; heard: number }
	/** Server's clock minus this machine's, milliseconds. */
	| { type: 'clock'; offsetMs: number }
	/** Nothing is made before these sources have a picture, or so long. */
	| { type: 'expect'; sourceIds: string[]; withinMs: number }
	| { type: 'stream'; sourceId: string; frames: ReadableStream<VideoFrame> }
	| { type: 'port'; sourceId: string; port: MessagePort }
	| { type: 'clip'; sourceId: string; port: MessagePort; memory: ClipMemory }
	/** A still that was read from its file; the worker closes it. */
	| { type: 'still'; sourceId: string; image: ImageBitmap }
	/** A file with pictures that move. */
	| { type: 'animation'; sourceId: string; name: string; bytes: ArrayBuffer }
	| { type: 'removeSource'; sourceId: string }
	| { type: 'monitor'; id: string; canvas: OffscreenCanvas; subject: MonitorSubject }
	| { type: 'monitorSize'; id: string; size: Size }
	/** Makes these views for those who watch from afar, sends each to its place, and makes no other. */
	| { type: 'beWatched'; urls: ViewUrls }
	/** Whether anybody can see it. */
	| { type: 'monitorSeen'; id: string; seen: boolean }
	| { type: 'monitorSubject'; id: string; subject: MonitorSubject }
	| { type: 'removeMonitor'; id: string }
	/** Encode and send to the port until told to stop. */
	| ({ type: 'encode'; port: MessagePort } & Encoded)
	| { type: 'stopEncoding' };

export type FromPicture =
	| { type: 'started' }
	| { type: 'failed'; trouble: Trouble }
	/** A file has been read to its end, or why it cannot be. */
	| { type: 'animationRead'; sourceId: string; size: Size; problem: string }
	/** What was armed has been done. */
	| { type: 'fell'; dueId: string }
	/** The desk's monitors change with the screen's next frame. */
	| { type: 'refreshes' }
	/**
	 * About twice a second.
	 * @property handled how many messages of the page the worker had handled by then
	 */
	| { type: 'report'; report: PictureReport; handled: number };

/** What the page asks the picture worker, and is answered. */
export interface PictureQuestions {
	/** The colour of a source's picture at a place in parts of it, before any correction; null without a picture. */
	pick(sourceId: string, x: number, y: number): Promise<Yuv | null>;
	/** How much a source's picture changes from frame to frame, for so many frames; times on the engine's clock. */
	watch(sourceId: string, frames: number): Promise<Motion[]>;
	/** Copies of what sources show, for so many frames; those that show nothing are left out. */
	sample(sourceIds: readonly string[], frames: number): Promise<Sample[]>;
}

/** How the making of pictures goes. */
export interface PictureReport {
	/** Frames that have fallen due since encoding began, and those that came out of the encoder. */
	due: number;
	encoded: number;
	/** Milliseconds of work for a frame, mean of the last moment. */
	frameMs: number;
	/** Step of what is given up on a busy machine; see relief.ts. */
	relief: number;
	/** For how long viewers have seen nothing but black, milliseconds. */
	blackMs: number;
	pictures: SourcePicture[];
}

/** How a source's picture does: size, and how long ago the newest frame came, or it was opened when none has come. */
export interface SourcePicture {
	sourceId: string;
	size: Size | null;
	silentMs: number;
	/** Frames of a live source that have come so far; null for any other. */
	arrived: number | null;
	problem: string;
	fault: PictureFault;
	/** All of it is patched, because it is not certain where its page has gone. */
	uncertain: boolean;
}

/** From picture worker to uplink worker: packets, framed; and the end of them. Back goes what the server says. */
export type ToUplinkPort =
	| { packet: Uint8Array<ArrayBuffer>; kind: 'config' | 'key' | 'delta'; rendition: number }
	/** A picture of the holding card's loop; the first one begins a new loop. */
	| { packet: Uint8Array<ArrayBuffer>; kind: 'hold'; rendition: number; first: boolean }
	| { done: true };

export type ToUplink =
	| { type: 'start'; memory: SharedMemory; tracks: TrackMemory; url: string; port: MessagePort }
	/** End in good order once the pictures are done. */
	| { type: 'stop' };

export type FromUplink =
	| { type: 'state'; state: 'connecting' | 'open' | 'lost'; reason: string }
	| { type: 'failed'; trouble: Trouble }
	| { type: 'queue'; bytes: number }
	| { type: 'ended' };
