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

interface AudioContext {
	/** Web Audio API, section 1.2: an output by id, or none at all. */
	setSinkId?(sink: string | { type: 'none' }): Promise<void>;
}
