/** A source as the engine has opened it. */
import type { Source } from '../core/show/sources/source.ts';

/** What an opener is given to work with. */
export interface SourceContext {
	audio: AudioContext;
	eventId: string;
	/** Streams that a person has shared, by source: only a person's press can open one. */
	shares: ReadonlyMap<string, MediaStream>;
	/** What the headphones of this machine play, as a stand-in's microphones may hear it. */
	inRoom: AudioNode;
	/** Where a stand-in that must keep time with the engine finds its clock. */
	clock: { control: Int32Array<SharedArrayBuffer>; fps: number; startFrame: Promise<number> };
}

/** A source that runs. Picture comes as a stream of frames or through a port, sound as a Web Audio node. */
export interface OpenSource {
	picture?:
		| { frames: ReadableStream<VideoFrame> }
		| { port: MessagePort }
		| { image: ImageBitmap }
		| { animation: ArrayBuffer };
	sound?: AudioNode;
	/** How many inputs the sound has; two unless said otherwise. */
	inputs?: number;
	/** Called once when the source goes away by itself. */
	onLost: ((reason: string) => void) | null;
	close(): void;
}

export type OpenStandIn = (name: string, context: SourceContext) => Promise<OpenSource>;

/** How a source does, for people. */
export interface SourceCondition {
	state: 'opening' | 'live' | 'lost';
	/** Milliseconds since 1970. */
	since: number;
	/** What is wrong and what to do; empty when nothing is. A live source may be black or stand still. */
	reason: string;
	width: number;
	height: number;
}

/** True for sources that the engine draws itself: there is nothing to be opened. */
export function isDrawn({ origin }: Source): boolean {
	return origin.from === 'card' || origin.from === 'colour' || origin.from === 'clock';
}

/** @throws with a sentence when the source cannot be opened. */
export async function openSource(source: Source, context: SourceContext): Promise<OpenSource> {
	const { origin, id, name, kind } = source;
	switch (origin.from) {
		case 'standIn': {
			const { openStandIn } = await import('./stand-ins.ts');
			return openStandIn(origin.standIn, context);
		}
		case 'device': {
			const { openDevice } = await import('./device.ts');
			return openDevice(kind, origin, context.audio);
		}
		case 'share': {
			const { openShare } = await import('./share.ts');
			return openShare(name, context.shares.get(id));
		}
		case 'file': {
			const { openStill } = await import('./still.ts');
			return openStill(`/api/events/${context.eventId}/files/${origin.fileId}`, origin.fileName);
		}
		default:
			throw new Error(`${name} is drawn, not opened.`);
	}
}
