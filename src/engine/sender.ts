/** Sends the program while the event is on air: pictures and sound to the uplink worker, and what is recorded apart. */
import { planDelivery } from '../core/show/delivery/delivery.ts';
import { isOnAir, type ShowState } from '../core/show/state.ts';
import type { FromUplink, ToPicture, ToUplink } from './messages.ts';
import type { SoundTrack } from './mix-router.ts';
import type { Hardware } from './picture/encode.ts';
import { plain } from './plain.ts';
import { makeTrackMemory, type SharedMemory, type TrackMemory } from './shared.ts';
import type { Trouble } from './trouble.ts';

export interface SenderParts {
	memory: SharedMemory;
	/** Uplink address, with the page's name in it. */
	uplinkUrl: string;
	fps: number;
	hardware(): Hardware;
	toPicture(message: ToPicture, transfer: Transferable[]): void;
	/** Other sounds are recorded apart now, into other memory. */
	onSounds(sounds: RecordedSounds): void;
	onTrouble(trouble: Trouble | null): void;
}

/** Channels that are recorded apart, and the memory that the mixer writes them to. */
export interface RecordedSounds {
	tracks: readonly SoundTrack[];
	memory: TrackMemory;
}

const NO_SOUNDS: RecordedSounds = { tracks: [], memory: { rings: [], indices: [] } };

export class Sender {
	#parts: SenderParts;
	#worker: Worker;
	#isSending = false;
	sounds: RecordedSounds = NO_SOUNDS;
	/** Bytes that wait to leave the browser. */
	queueBytes = 0;

	constructor(parts: SenderParts, worker: Worker) {
		this.#parts = parts;
		this.#worker = worker;
		worker.onmessage = ({ data }: MessageEvent<FromUplink>) => this.#handleMessage(data);
	}

	/**
	 * Begins or ends sending as the show says.
	 * @returns true when it begins with this
	 */
	follow(state: ShowState): boolean {
		if (isOnAir(state) === this.#isSending) return false;
		this.#isSending = isOnAir(state);
		if (this.#isSending) this.#begin(state);
		else this.#end();
		return this.#isSending;
	}

	#begin(state: ShowState): void {
		const { memory, uplinkUrl, fps, hardware } = this.#parts;
		const { port1, port2 } = new MessageChannel();
		const url = `${uplinkUrl}&session=${crypto.randomUUID()}`;
		const all = plain(state.live.broadcast!.tracks).map((track, index) => ({ track, index }));
		const tracks = all.flatMap(({ track, index }) => (track.kind === 'channel' ? [{ ...track, index }] : []));
		this.#record({ tracks, memory: makeTrackMemory(tracks) });
		this.#post({ type: 'start', memory, tracks: this.sounds.memory, url, port: port2 }, [port2]);
		// A broadcast that was begun by a former version has none.
		const known = state.live.broadcast!.renditions;
		const renditions = plain(known.length > 0 ? known : planDelivery(state).renditions);
		const pictures = all.flatMap(({ track, index }) => (track.kind === 'source' ? [{ track, index }] : []));
		this.#parts.toPicture({ type: 'encode', renditions, tracks: pictures, fps, hardware: hardware(), port: port1 }, [
			port1,
		]);
	}

	#end(): void {
		this.#parts.toPicture({ type: 'stopEncoding' }, []);
		this.#record(NO_SOUNDS);
		this.#post({ type: 'stop' }, []);
	}

	#record(sounds: RecordedSounds): void {
		this.sounds = sounds;
		this.#parts.onSounds(sounds);
	}

	#handleMessage(message: FromUplink): void {
		if (message.type === 'queue') this.queueBytes = message.bytes;
		else if (message.type === 'failed') this.#parts.onTrouble(message.trouble);
		else if (message.type === 'state' && message.state === 'lost')
			this.#parts.onTrouble({ code: 'serverLost', about: { problem: message.reason } });
		else this.#parts.onTrouble(null);
	}

	#post(message: ToUplink, transfer: Transferable[]): void {
		this.#worker.postMessage(message, transfer);
	}

	close(): void {
		this.#worker.terminate();
	}
}
