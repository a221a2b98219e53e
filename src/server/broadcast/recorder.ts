/** Writes the program, or a picture alone, to an MP4 in fragments: what is on disk is playable, whatever comes after. */
import { open, type FileHandle } from 'node:fs/promises';
import { bytesOf } from '../../core/delivery/mp4/boxes.ts';
import { Fragments } from '../../core/delivery/mp4/fragments.ts';
import { movieHeader } from '../../core/delivery/mp4/header.ts';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';

/** What may wait for a slow disk: some minutes of a program. */
const MOST_WAITING_BYTES = 256e6;

export class Recorder {
	readonly file: string;
	bytes = 0;
	#handle: FileHandle;
	#fragments: Fragments;
	#queue: Promise<void> = Promise.resolve();
	#waitingBytes = 0;
	#failed: (error: Error) => void;
	#broken = false;

	/**
	 * Opens the file and begins it.
	 * @param audio null for a picture without sound
	 * @param failed told once when the file can no longer be written
	 * @throws when the file cannot be made
	 */
	static async begin(
		file: string,
		video: VideoConfig,
		audio: AudioConfig | null,
		failed: (error: Error) => void,
	): Promise<Recorder> {
		const recorder = new Recorder(file, await open(file, 'wx', 0o640), new Fragments(video, audio), failed);
		recorder.#append([movieHeader(video, audio)]);
		return recorder;
	}

	private constructor(file: string, handle: FileHandle, fragments: Fragments, failed: (error: Error) => void) {
		this.file = file;
		this.#handle = handle;
		this.#fragments = fragments;
		this.#failed = failed;
	}

	/** Adds a packet; its time is on the broadcast's line. */
	write(packet: MediaPacket): void {
		if (!this.#broken) this.#append(this.#fragments.add(packet));
	}

	#append(pieces: Uint8Array[]): void {
		if (pieces.length === 0) return;
		const bytes = bytesOf(pieces);
		this.#waitingBytes += bytes;
		if (this.#waitingBytes > MOST_WAITING_BYTES) return this.#break(new Error('the disk is too slow'));
		this.#queue = this.#queue
			.then(() => (this.#broken ? undefined : this.#put(pieces, bytes)))
			.catch((error: unknown) => this.#break(error as Error));
	}

	async #put(pieces: readonly Uint8Array[], bytes: number): Promise<void> {
		try {
			await this.#handle.appendFile(Buffer.concat(pieces, bytes));
		} catch (error) {
			// Half a fragment on a full disk would be of no use to anybody.
			await this.#handle.truncate(this.bytes).catch(() => {});
			throw error;
		}
		this.#waitingBytes -= bytes;
		this.bytes += bytes;
	}

	#break(error: Error): void {
		if (this.#broken) return;
		this.#broken = true;
		this.#failed(error);
	}

	/** Writes what is left and closes the file. */
	async end(): Promise<void> {
		if (!this.#broken) this.#append(this.#fragments.flush());
		await this.#queue;
		await this.#handle.close().catch(() => {});
	}
}
