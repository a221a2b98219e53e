/** A file of one broadcast, the program's or that of a picture apart: waits for what it needs to begin, and says how it goes. */
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import type { RecordingStatus } from '../../core/show/live.ts';
import { log } from '../log.ts';
import { Recorder } from './recorder.ts';

/** How the file goes, but for the room that is left on its disk. */
type FileStatus = Omit<RecordingStatus, 'roomS' | 'tracks'>;

export class Recording {
	readonly status: FileStatus = { phase: 'off', file: '', bytes: 0, reason: '' };
	#file: string;
	#changed: () => void;
	#beginning: Promise<Recorder | null> | null = null;
	#recorder: Recorder | null = null;
	#waiting: MediaPacket[] = [];

	/** @param changed told when the phase changes */
	constructor(file: string, changed: () => void) {
		this.#file = file;
		this.#changed = changed;
	}

	/** What the packets mean; the first call begins the file. */
	configure(video: VideoConfig, audio: AudioConfig | null): void {
		this.#beginning ??= this.#begin(video, audio);
	}

	write(packet: MediaPacket): void {
		if (this.#recorder) this.#recorder.write(packet);
		else if (this.status.phase !== 'failed') this.#waiting.push(packet);
	}

	measure(): void {
		if (this.#recorder) this.status.bytes = this.#recorder.bytes;
	}

	async #begin(video: VideoConfig, audio: AudioConfig | null): Promise<Recorder | null> {
		try {
			const recorder = await Recorder.begin(this.#file, video, audio, (error) => this.#fail(error));
			for (const packet of this.#waiting.splice(0)) recorder.write(packet);
			this.#recorder = recorder;
			Object.assign(this.status, { phase: 'recording', file: recorder.file });
			this.#changed();
			return recorder;
		} catch (error) {
			this.#fail(error as NodeJS.ErrnoException);
			return null;
		}
	}

	#fail(error: NodeJS.ErrnoException): void {
		log.error({ file: this.#file, err: error }, 'A picture cannot be recorded');
		const reason =
			error.code === 'ENOSPC'
				? 'The disk is full. Make room; the broadcast itself goes on.'
				: `The recording cannot be written (${error.code ?? error.message}). The broadcast itself goes on.`;
		Object.assign(this.status, { phase: 'failed', reason });
		this.#waiting = [];
		this.#changed();
	}

	/** Finishes the file. */
	async end(): Promise<void> {
		const recorder = await this.#beginning;
		await recorder?.end();
		if (recorder) this.status.bytes = recorder.bytes;
		if (this.status.phase === 'recording') this.status.phase = 'off';
	}
}
