/** A file of one broadcast, the program's or that of a picture apart: waits for what it needs to begin, and says how it goes. */
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import { writeFaultOf } from '../../core/show/delivery/write-fault.ts';
import type { RecordingStatus } from '../../core/show/messages.ts';
import { log } from '../log.ts';
import { Recorder } from './recorder.ts';

/** How the file goes, but for the room that is left on its disk. */
type FileStatus = Omit<RecordingStatus, 'roomS' | 'tracks' | 'elsewhere'>;

export class Recording {
	readonly status: FileStatus = { phase: 'off', file: '', bytes: 0, fault: null };
	#file: string;
	#changed: () => void;
	#beginning: Promise<Recorder | null> | null = null;
	#recorder: Recorder | null = null;
	#waiting: MediaPacket[] = [];
	/** True for a file whose time begins with itself: what was before lies in another one. */
	#fresh: boolean;
	/** Its first key frame on the broadcast's line; null before that. */
	#fromUs: number | null = null;

	/**
	 * @param changed called when the phase changes
	 * @param fresh begins the file's time at its first key frame instead of the broadcast's beginning
	 */
	constructor(file: string, changed: () => void, fresh = false) {
		this.#file = file;
		this.#changed = changed;
		this.#fresh = fresh;
	}

	/** What the packets mean; the first call begins the file. */
	configure(video: VideoConfig, audio: AudioConfig | null): void {
		this.#beginning ??= this.#begin(video, audio);
	}

	/** Where the file begins on the broadcast's line; null while that is not known. */
	get fromUs(): number | null {
		return this.#fresh ? this.#fromUs : 0;
	}

	write(placed: MediaPacket): void {
		if (this.#fresh && placed.kind === 'video' && placed.key) this.#fromUs ??= placed.timeUs;
		const { fromUs } = this;
		if (fromUs === null || placed.timeUs < fromUs) return;
		const packet = { ...placed, timeUs: placed.timeUs - fromUs };
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
		Object.assign(this.status, { phase: 'failed', fault: writeFaultOf(error) });
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
