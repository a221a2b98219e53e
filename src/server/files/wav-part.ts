/** Reads parts of the sounds that were recorded apart (core/sound/wav.ts). */
import { open, type FileHandle } from 'node:fs/promises';
import { BYTES_PER_SAMPLE, WAV_HEADER_BYTES } from '../../core/sound/wav.ts';

const FULL_SCALE = 2 ** 23;
const SIDES_AT = 58;

export class WavPart {
	readonly #handle: FileHandle;
	readonly #sides: number;

	static async open(file: string): Promise<WavPart> {
		const handle = await open(file, 'r');
		const header = Buffer.alloc(WAV_HEADER_BYTES);
		await handle.read(header, 0, header.length, 0);
		return new WavPart(handle, Math.max(1, header.readUInt16LE(SIDES_AT)));
	}

	private constructor(handle: FileHandle, sides: number) {
		this.#handle = handle;
		this.#sides = sides;
	}

	/**
	 * The mean of all sides at a part of the rate: each sample is the mean of so many.
	 * @param by how many times lower that rate is
	 * @param from first sample at it, may lie before the file
	 * @returns so many samples, full scale 1, silence where the file has none
	 */
	async read(by: number, from: number, count: number): Promise<Float32Array> {
		const each = by * this.#sides;
		const sampleBytes = each * BYTES_PER_SAMPLE;
		const samples = new Float32Array(count);
		const skipped = Math.max(0, -from);
		if (skipped >= count) return samples;
		const bytes = Buffer.alloc((count - skipped) * sampleBytes);
		const at = WAV_HEADER_BYTES + (from + skipped) * sampleBytes;
		const { bytesRead } = await this.#handle.read(bytes, 0, bytes.length, at);
		for (let i = 0; (i + 1) * sampleBytes <= bytesRead; i++) {
			let sum = 0;
			for (let k = 0; k < each; k++) sum += bytes.readIntLE(i * sampleBytes + k * BYTES_PER_SAMPLE, BYTES_PER_SAMPLE);
			samples[skipped + i] = sum / each / FULL_SCALE;
		}
		return samples;
	}

	close(): Promise<void> {
		return this.#handle.close();
	}
}
