/** What browsers have and TypeScript's DOM library does not (yet) say. */

/** Inside an audio worklet (Web Audio API, section 1.32). */
declare abstract class AudioWorkletProcessor {
	readonly port: MessagePort;
	constructor(options?: AudioWorkletNodeOptions);
}
declare const currentFrame: number;
declare function registerProcessor(
	name: string,
	processor: new (options: AudioWorkletNodeOptions) => AudioWorkletProcessor,
): void;

interface AudioContextOptions {
	/** Web Audio API, section 1.2: `none` for one that nobody hears, which asks no output of the system for its time. */
	sinkId?: string | { type: 'none' };
}
interface AudioContext {
	/** Likewise, for one that runs. */
	setSinkId?(sink: string | { type: 'none' }): Promise<void>;
}

/** A track made of frames that a page writes (MediaStreamTrack Insertable Media Processing, as Chromium has it). */
declare class MediaStreamTrackGenerator extends MediaStreamTrack {
	constructor(init: { kind: 'video' });
	readonly writable: WritableStream<VideoFrame>;
}

/** A file of the browser's own that a worker writes to (File System Standard, section 3.3). */
interface FileSystemSyncAccessHandle {
	/** @returns bytes written */
	write(bytes: Uint8Array, options: { at: number }): number;
	getSize(): number;
	flush(): void;
	close(): void;
}
interface FileSystemFileHandle {
	/** In workers only. */
	createSyncAccessHandle(): Promise<FileSystemSyncAccessHandle>;
}
