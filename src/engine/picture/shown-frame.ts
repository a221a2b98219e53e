/** The frame that a source shows, and its planes in kernel memory when they are needed. */
import type { Compositor } from '../../core/picture/compositor.ts';
import { patchOver, type PatchStep, type PictureInfo } from '../../core/picture/draw-list.ts';
import { PageFollower } from '../../core/picture/follow.ts';
import { scaledTo } from '../../core/picture/geometry.ts';
import { sampleLuma, type LumaSample } from '../../core/picture/health.ts';
import type { FrameMemory, Planes } from '../../core/picture/planes.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
import type { Treatment } from './picture-input.ts';

/** Formats of shared screens and of some cards; they cost a conversion for each frame. */
const RGB: readonly string[] = ['RGBA', 'RGBX', 'BGRA', 'BGRX'];

/** What is seen of a frame; colours without chroma planes are cut to even sides, which planes of ours have. */
function evenRect({ visibleRect, format }: VideoFrame): { x: number; y: number; width: number; height: number } {
	const { x, y, width, height } = visibleRect!;
	return format && RGB.includes(format) ? { x, y, width: width & ~1, height: height & ~1 } : { x, y, width, height };
}

/** Owns one frame at a time; the one before is closed when another one takes its place. */
export class ShownFrame {
	#frame: VideoFrame | null = null;
	#planes: Planes | null = null;
	#loaded: { frame: VideoFrame; treatment: string } | null = null;
	#compositor: Compositor;
	#treatment: Treatment | null = null;
	/** For patches that go with the page: by patch, with the area they were placed on; null when that is not known. */
	#followers = new Map<string, { placed: string; follower: PageFollower | null }>();
	/** True while it is not certain where a patch belongs, so that all of the picture is patched. */
	uncertain = false;
	/** Of the picture loaded last, as it came. */
	sample: LumaSample | null = null;
	#loading: Promise<Planes> | null = null;
	/** The frame being copied, which the copy closes when it is not shown any more by then. */
	#copying: VideoFrame | null = null;

	/**
	 * @param compositor into whose memory pictures are copied
	 * @param placedBefore patches that were placed on an earlier picture of this source: how far its page has been
	 * scrolled since then nobody knows
	 */
	constructor(compositor: Compositor, placedBefore: readonly PrivacyPatch[] = []) {
		this.#compositor = compositor;
		for (const { id, area, follow } of placedBefore)
			if (follow) this.#followers.set(id, { placed: JSON.stringify(area), follower: null });
	}

	/** Shows another frame, which is closed when it is not needed any more; null shows nothing. */
	show(frame: VideoFrame | null): void {
		// A camera stands still when too many of its frames are kept.
		if (this.#frame !== this.#copying) this.#frame?.close();
		this.#frame = frame;
	}

	get frame(): VideoFrame | null {
		return this.#frame;
	}

	get info(): PictureInfo | null {
		if (!this.#frame) return null;
		const { width, height } = evenRect(this.#frame);
		return { width, height, alpha: this.#frame.format === 'I420A' };
	}

	get untouched(): VideoFrame | null {
		if (this.#treatment) return null;
		const isPlanar = this.#frame?.format === 'I420' || this.#frame?.format === 'NV12';
		return isPlanar ? this.#frame : null;
	}

	treat(treatment: Treatment | null): void {
		this.#treatment = treatment;
	}

	/** Copies the frame into kernel memory, once per frame. */
	async planesAt(): Promise<Planes | null> {
		const frame = this.#frame;
		if (!frame) return null;
		const treatment = this.#treatment?.name ?? '';
		if (this.#loaded?.frame === frame && this.#loaded.treatment === treatment) return this.#planes;
		if (this.#loading) return this.#loading;
		this.#copying = frame;
		this.#loading = this.#copy(frame).finally(() => {
			this.#loading = this.#copying = null;
			if (this.#frame !== frame) frame.close();
		});
		return this.#loading;
	}

	async #copy(frame: VideoFrame): Promise<Planes> {
		const compositor = this.#compositor;
		const { width, height } = evenRect(frame);
		const { memory } = compositor;
		const planes = this.#planesFor(width, height, frame.format === 'I420A');
		const rowsC = (height + 1) >> 1;
		const luma = { offset: planes.y, stride: planes.strideY };
		if (frame.format === 'I420') {
			const layout = [luma, { offset: planes.u, stride: planes.strideC }, { offset: planes.v, stride: planes.strideC }];
			await frame.copyTo(memory.bytes, { layout });
		} else if (frame.format === 'I420A') {
			const chroma = [planes.u, planes.v].map((offset) => ({ offset, stride: planes.strideC }));
			const alpha = { offset: planes.alpha!, stride: planes.strideY };
			await frame.copyTo(memory.bytes, { layout: [luma, ...chroma, alpha] });
		} else if (frame.format === 'NV12') {
			await withScratch(memory, 2 * planes.strideC * rowsC, async (at) => {
				const layout = [luma, { offset: at, stride: 2 * planes.strideC }];
				await frame.copyTo(memory.bytes, { layout });
				compositor.splitChroma(planes, at);
			});
		} else if (frame.format && RGB.includes(frame.format)) {
			const bytes = 4 * width * height;
			await withScratch(memory, bytes, async (at) => {
				await frame.copyTo(memory.bytes.subarray(at, at + bytes), { format: 'RGBA', rect: evenRect(frame) });
				compositor.fromRgba(planes, memory.bytes.slice(at, at + bytes));
			});
		} else {
			throw new Error(`brings its picture as ${frame.format ?? 'an unknown form'}, which cannot be read`);
		}
		this.uncertain = false;
		this.sample = sampleLuma(memory.bytes, planes);
		const treatment = this.#treatment;
		if (treatment) {
			const patches = treatment.patches.map((patch) => this.#patchStep(patch, memory.bytes, planes));
			compositor.treat(planes, treatment.adjust, patches);
		}
		planes.version++;
		this.#loaded = { frame, treatment: treatment?.name ?? '' };
		return planes;
	}

	#planesFor(width: number, height: number, alpha: boolean): Planes {
		const known = this.#planes;
		if (known?.width === width && known.height === height && (known.alpha !== null) === alpha) return known;
		if (known) this.#compositor.forget(known);
		return (this.#planes = this.#compositor.memory.allocatePlanes(width, height, alpha));
	}

	/** A patch as it lies on the picture as it came: where it was placed, where its page has gone, or over all of it. */
	#patchStep({ id, area, follow, style, strength }: PrivacyPatch, bytes: Uint8Array, planes: Planes): PatchStep {
		const rect = scaledTo(planes, area);
		if (!follow) return patchOver(rect, style, strength, planes);
		const placed = JSON.stringify(area);
		let known = this.#followers.get(id);
		if (known?.placed !== placed) known = { placed, follower: new PageFollower() };
		this.#followers.set(id, known);
		const now = known.follower?.follow(bytes, planes, rect) ?? null;
		this.uncertain ||= now === null;
		return patchOver(now ?? { x: 0, y: 0, width: planes.width, height: planes.height }, style, strength, planes);
	}

	async close(): Promise<void> {
		this.show(null);
		await this.#loading?.catch(() => {});
		if (this.#planes) this.#compositor.forget(this.#planes);
		this.#planes = null;
	}
}

/** Lets something be done with memory that is given back afterwards, whatever comes of it. */
async function withScratch(memory: FrameMemory, bytes: number, use: (at: number) => Promise<void>): Promise<void> {
	const at = memory.allocate(bytes);
	try {
		await use(at);
	} finally {
		memory.release(at, bytes);
	}
}
