/** A file with pictures that move: read once, treated as the plan says, and kept ready. */
import type { Compositor } from '../../core/picture/compositor.ts';
import { patchStep, type PictureInfo } from '../../core/picture/draw-list.ts';
import type { Size } from '../../core/picture/geometry.ts';
import type { Planes } from '../../core/picture/planes.ts';
import { closeFrame, readAnimation, type AnimationFrame } from '../sources/animation.ts';
import type { PictureInput, Treatment } from './picture-input.ts';

interface Frame {
	planes: Planes;
	/** When the next one takes its place, milliseconds from the beginning of the file. */
	endsMs: number;
}

export class AnimationInput implements PictureInput {
	#compositor: Compositor;
	#name: string;
	#bytes: ArrayBuffer;
	#treatment: Treatment | null = null;
	#frames: readonly Frame[] = [];
	#size: Size = { width: 0, height: 0 };
	/** Counts readings: only the newest is of use. */
	#reading = 0;
	#onProblem: (error: unknown) => void;

	/**
	 * @param bytes of the file
	 * @param onProblem told when it cannot be read again after another treatment
	 */
	constructor(compositor: Compositor, name: string, bytes: ArrayBuffer, onProblem: (error: unknown) => void) {
		this.#compositor = compositor;
		this.#name = name;
		this.#bytes = bytes;
		this.#onProblem = onProblem;
	}

	get info(): PictureInfo | null {
		return this.#frames.length > 0 ? { ...this.#size, alpha: true } : null;
	}

	planesAt(timeMs: number): Planes | null {
		const last = this.#frames.at(-1);
		if (!last) return null;
		const at = timeMs % last.endsMs;
		return this.#frames.find(({ endsMs }) => at < endsMs)!.planes;
	}

	treat(treatment: Treatment | null): void {
		if ((treatment?.name ?? '') === (this.#treatment?.name ?? '')) return;
		this.#treatment = treatment;
		if (this.#frames.length > 0) this.read().catch(this.#onProblem);
	}

	/**
	 * Reads all frames; the former ones are shown until then.
	 * @throws {Error} with a sentence when they cannot be read
	 */
	async read(): Promise<Size> {
		const reading = ++this.#reading;
		const frames: Frame[] = [];
		let size: Size = { width: 0, height: 0 };
		try {
			for await (const frame of readAnimation(this.#bytes, this.#name)) {
				if (reading !== this.#reading) {
					closeFrame(frame);
					break;
				}
				size = { width: frame.width, height: frame.height };
				frames.push({ planes: await this.#planesOf(frame), endsMs: frame.endsMs });
			}
		} catch (error) {
			this.#forget(frames);
			throw error;
		}
		if (reading !== this.#reading) this.#forget(frames);
		else {
			this.#forget(this.#frames);
			this.#frames = frames;
			this.#size = size;
		}
		return size;
	}

	async #planesOf(frame: AnimationFrame): Promise<Planes> {
		const { width, height } = frame;
		const planes = this.#compositor.memory.allocatePlanes(width, height, true);
		try {
			if ('rgba' in frame) this.#compositor.fromRgba(planes, frame.rgba);
			else await this.#fromFilm(planes, frame.film, frame.alpha);
		} catch (error) {
			this.#compositor.forget(planes);
			throw error;
		} finally {
			closeFrame(frame);
		}
		const steps = (this.#treatment?.patches ?? []).map((patch) => patchStep(patch, { width, height }));
		this.#compositor.treat(planes, this.#treatment?.adjust ?? null, steps);
		return planes;
	}

	async #fromFilm(planes: Planes, film: VideoFrame, alpha: VideoFrame | null): Promise<void> {
		const { memory } = this.#compositor;
		const { y, u, v, strideY, strideC, width, height } = planes;
		const rect = { x: 0, y: 0, width, height };
		const chroma = [u, v].map((offset) => ({ offset, stride: strideC }));
		const luma = { offset: y, stride: strideY };
		if (film.format !== 'I420') throw new Error(`its pictures come as ${film.format}`);
		await film.copyTo(memory.bytes, { rect, layout: [luma, ...chroma] });
		if (!alpha) return void memory.bytes.fill(255, planes.alpha!, planes.alpha! + strideY * height);
		// Only its luma is wanted; its chroma goes where the next copy or nothing needs it.
		const whole = new Uint8Array(alpha.allocationSize({ rect }));
		const [at] = await alpha.copyTo(whole, { rect });
		for (let row = 0; row < height; row++) {
			const from = at!.offset + row * at!.stride;
			memory.bytes.set(whole.subarray(from, from + width), planes.alpha! + row * strideY);
		}
	}

	#forget(frames: readonly Frame[]): void {
		for (const { planes } of frames) this.#compositor.forget(planes);
	}

	close(): Promise<void> {
		this.#reading++;
		this.#forget(this.#frames);
		this.#frames = [];
		return Promise.resolve();
	}
}
