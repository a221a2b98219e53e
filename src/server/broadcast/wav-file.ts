/** Writes an isolated sound as WAV: complete and playable after every second, whatever happens later. */
import { open, type FileHandle } from 'node:fs/promises';
import { BYTES_PER_SAMPLE, wavHeader, WAV_HEADER_BYTES } from '../../core/sound/wav.ts';

const RATE = 48_000;
/** How often the header is brought up to date. */
const HEADER_EVERY_SAMPLES = RATE;
/** Samples that a packet may lie beside its place: times are whole microseconds, clocks of engines are not one. */
const SLACK = 48;
/** What may wait for a disk that is slow: some minutes of sound. */
const MOST_WAITING_BYTES = 32e6;

export class WavFile {
	#handle: FileHandle;
	#frameBytes: number;
	#sides: number;
	/** Samples of each side that were given to be written. */
	#samples = 0;
	#headerAt = 0;
	#queue: Promise<void> = Promise.resolve();
	#failed: (error: Error) => void;
	#broken = false;
	#waitingBytes = 0;

	/**
	 * @param sides 1 or 2
	 * @param failed told once when the file can no longer be written
	 * @throws when the file cannot be made
	 */
	static async begin(file: string, sides: number, failed: (error: Error) => void): Promise<WavFile> {
		const handle = await open(file, 'wx', 0o640);
		const wav = new WavFile(handle, sides, failed);
		wav.#put(wavHeader(sides, 0), 0);
		return wav;
	}

	private constructor(handle: FileHandle, sides: number, failed: (error: Error) => void) {
		this.#handle = handle;
		this.#sides = sides;
		this.#frameBytes = sides * BYTES_PER_SAMPLE;
		this.#failed = failed;
	}

	get bytes(): number {
		return WAV_HEADER_BYTES + this.#samples * this.#frameBytes;
	}

	/**
	 * Puts samples where they belong: what is missing before them is silence, what was written already is left out.
	 * @param timeUs of the first one, from the beginning of the recording
	 */
	write(timeUs: number, data: Uint8Array): void {
		const frame = this.#frameBytes;
		const wanted = Math.round((timeUs * RATE) / 1e6);
		const off = wanted - this.#samples;
		const late = Math.abs(off) <= SLACK && this.#samples > 0 ? 0 : off;
		// What is never written of a file reads as noughts.
		this.#samples += Math.max(0, late);
		const whole = data.subarray(0, data.length - (data.length % frame));
		this.#append(whole.subarray(Math.min(whole.length, Math.max(0, -late) * frame)));
		if (this.#samples - this.#headerAt >= HEADER_EVERY_SAMPLES) this.#updateHeader();
	}

	#append(bytes: Uint8Array): void {
		if (bytes.length === 0) return;
		this.#put(bytes, this.bytes);
		this.#samples += bytes.length / this.#frameBytes;
	}

	#updateHeader(): void {
		this.#headerAt = this.#samples;
		this.#put(wavHeader(this.#sides, this.#samples * this.#frameBytes), 0);
	}

	#put(bytes: Uint8Array, at: number): void {
		if (this.#broken) return;
		this.#waitingBytes += bytes.length;
		if (this.#waitingBytes > MOST_WAITING_BYTES) return this.#break(new Error('the disk is too slow'));
		this.#queue = this.#queue
			.then(async () => {
				if (!this.#broken) await this.#handle.write(bytes, 0, bytes.length, at);
				this.#waitingBytes -= bytes.length;
			})
			.catch(async (error: unknown) => {
				if (!this.#broken) await this.#mend().catch(() => {});
				this.#break(error as Error);
			});
	}

	/** What a full disk has taken is less than was counted, and may end in the middle of a sample. */
	async #mend(): Promise<void> {
		const { size } = await this.#handle.stat();
		this.#samples = Math.floor((size - WAV_HEADER_BYTES) / this.#frameBytes);
		await this.#handle.truncate(this.bytes);
		const header = wavHeader(this.#sides, this.bytes - WAV_HEADER_BYTES);
		await this.#handle.write(header, 0, header.length, 0);
	}

	#break(error: Error): void {
		if (this.#broken) return;
		this.#broken = true;
		this.#failed(error);
	}

	async end(): Promise<void> {
		this.#updateHeader();
		await this.#queue;
		await this.#handle.close().catch(() => {});
	}
}
