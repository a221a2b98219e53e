/** Records a guest's camera and microphone in their own browser, at full quality, whatever their line carries. */
import { ownFileName, ownKindOf } from '../../core/guests/own-recording.ts';
import type { FromOwnFile, ToOwnFile } from './own-file.worker.ts';

/** The first that a browser can make. */
const TYPES = [
	'video/mp4;codecs=avc1.64001f,opus',
	'video/mp4;codecs=avc1.42E01E,opus',
	'video/webm;codecs=vp9,opus',
	'video/webm;codecs=vp8,opus',
	'video/mp4',
];
/** A picture of 720 lines, and a voice, with hardly anything lost. Bits a second. */
const RATES = { videoBitsPerSecond: 6_000_000, audioBitsPerSecond: 192_000 };
/** Written to the file as often: no more is lost with the page. */
const PIECE_MS = 2000;
/** A recording is cut at these, and begins with one. */
const KEY_EVERY_MS = 2000;

export interface OwnRecorderEvents {
	/** It goes on no more: the browser has no room, or cannot write. */
	failed(isFull: boolean): void;
	/** A file is whole, or as whole as it will be. */
	closed(): void;
}

/** True where a browser can record, and keep what it has recorded. */
export function canRecord(): boolean {
	return typeOf() !== null && typeof navigator.storage?.getDirectory === 'function';
}

function typeOf(): string | null {
	if (typeof MediaRecorder !== 'function') return null;
	return TYPES.find((type) => MediaRecorder.isTypeSupported(type)) ?? null;
}

/** What is recorded now. */
interface Part {
	key: string;
	recorder: MediaRecorder;
	file: Worker;
	name: string;
}

export class OwnRecorder {
	readonly #folder: string;
	readonly #events: OwnRecorderEvents;
	#part: Part | null = null;
	/** Files that are not whole yet. */
	readonly writing = new Set<string>();

	/** @param folder in the browser's own file system, made when it is needed */
	constructor(folder: string, events: OwnRecorderEvents) {
		this.#folder = folder;
		this.#events = events;
	}

	get isRecording(): boolean {
		return this.#part !== null;
	}

	/**
	 * Records these tracks, in a new file if they are others than before.
	 * @param broadcastId the broadcast that it is made beside; null to end
	 * @param now milliseconds since 1970 by the server's clock
	 */
	record(broadcastId: string | null, tracks: readonly MediaStreamTrack[], now: number): void {
		const live = tracks.filter(({ readyState }) => readyState === 'live');
		const key = broadcastId === null || live.length === 0 ? '' : [broadcastId, ...live.map(({ id }) => id)].join(' ');
		if (key === (this.#part?.key ?? '')) return;
		this.#end();
		if (key === '') return;
		try {
			this.#begin(key, broadcastId!, live, now);
		} catch {
			// Tracks that end in this moment, or a browser that promised too much.
			this.#end();
			this.#events.failed(false);
		}
	}

	#begin(key: string, broadcastId: string, tracks: readonly MediaStreamTrack[], now: number): void {
		const type = typeOf();
		if (type === null) return;
		const options = { mimeType: type, ...RATES, videoKeyFrameIntervalDuration: KEY_EVERY_MS };
		const recorder = new MediaRecorder(new MediaStream([...tracks]), options);
		const name = ownFileName({ broadcastId, startedAt: Math.round(now), kind: ownKindOf(type)! });
		const file = new Worker(new URL('./own-file.worker.ts', import.meta.url), { type: 'module', name: 'own-file' });
		const tell = (message: ToOwnFile, transfer: Transferable[] = []) => file.postMessage(message, transfer);
		const part: Part = { key, recorder, file, name };
		const close = () => {
			file.terminate();
			this.writing.delete(name);
			this.#events.closed();
		};
		file.onmessage = ({ data }: MessageEvent<FromOwnFile>) => {
			if (data.type === 'failed') {
				if (this.#part === part) this.#end();
				this.#events.failed(data.isFull);
			}
			close();
		};
		file.onerror = () => {
			if (this.#part === part) this.#end();
			this.#events.failed(false);
			close();
		};
		this.writing.add(name);
		tell({ type: 'open', folder: this.#folder, name });
		// Pieces are read one after another, so that they are written in their order.
		let reading = Promise.resolve();
		recorder.ondataavailable = ({ data }) => {
			reading = reading.then(async () => {
				const bytes = await data.arrayBuffer();
				if (bytes.byteLength > 0) tell({ type: 'write', bytes }, [bytes]);
			});
		};
		recorder.onstop = () => {
			if (this.#part === part) this.#part = null;
			void reading.finally(() => tell({ type: 'close' }));
		};
		this.#part = part;
		recorder.start(PIECE_MS);
	}

	#end(): void {
		const part = this.#part;
		this.#part = null;
		if (part && part.recorder.state !== 'inactive') part.recorder.stop();
	}

	close(): void {
		this.#end();
	}
}
