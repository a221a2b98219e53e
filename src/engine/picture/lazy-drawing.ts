/** A picture that is drawn rather than received: only when somebody wants it, or when there is time. */
import { yuvOf } from '../../core/picture/colour.ts';
import type { Compositor } from '../../core/picture/compositor.ts';
import { patchStep, type PictureInfo } from '../../core/picture/draw-list.ts';
import type { Rect, Size } from '../../core/picture/geometry.ts';
import type { Planes } from '../../core/picture/planes.ts';
import type { Treatment } from './picture-input.ts';

/** Pixels with straight alpha, and where they belong in the program's picture. */
export interface Drawing extends Size {
	rgba: Uint8ClampedArray;
	at: Rect;
}

/** One colour all over, which needs no pixels. */
export interface Fill extends Size {
	colour: string;
}

interface Shown {
	/** Says all that the picture was drawn from. */
	stamp: string;
	planes: Planes;
	info: PictureInfo;
	at: Rect;
}

interface Wanted {
	stamp: string;
	draw: () => Drawing | Fill;
	treatment: Treatment | null;
}

export class LazyDrawing {
	#compositor: Compositor;
	#due: Wanted | null = null;
	#shown: Shown | null = null;

	constructor(compositor: Compositor) {
		this.#compositor = compositor;
	}

	/**
	 * Says what the picture should be.
	 * @param from says all that it is drawn from; the same as before draws nothing
	 * @param treatment what is done to the drawing afterwards
	 */
	want(from: string, draw: () => Drawing | Fill, treatment: Treatment | null = null): void {
		const stamp = JSON.stringify([from, treatment?.name ?? '']);
		if ((this.#due ?? this.#shown)?.stamp !== stamp) this.#due = { stamp, draw, treatment };
	}

	/** True while something else is wanted than what was drawn last. */
	get isDue(): boolean {
		return this.#due !== null;
	}

	/** What is wanted, drawn now if it is not yet; null when nothing is. */
	get shown(): Shown | null {
		if (this.#due) this.#draw(this.#due);
		return this.#shown;
	}

	#draw({ stamp, draw, treatment }: Wanted): void {
		// One that cannot be drawn is not tried again with each frame.
		this.#due = null;
		const drawing = draw();
		const { width, height } = drawing;
		const alpha = 'rgba' in drawing && !isOpaque(drawing.rgba);
		const planes = this.#planesFor({ width, height }, alpha);
		if ('rgba' in drawing) this.#compositor.fromRgba(planes, drawing.rgba);
		else this.#compositor.fillPlanes(planes, yuvOf(drawing.colour));
		const steps = (treatment?.patches ?? []).map((patch) => patchStep(patch, drawing));
		this.#compositor.treat(planes, treatment?.adjust ?? null, steps);
		const at = 'at' in drawing ? drawing.at : { x: 0, y: 0, width, height };
		this.#shown = { stamp, planes, info: { width, height, alpha }, at };
	}

	#planesFor({ width, height }: Size, alpha: boolean): Planes {
		const { info, planes } = this.#shown ?? {};
		if (planes && info!.width === width && info!.height === height && info!.alpha === alpha) return planes;
		if (planes) this.#compositor.forget(planes);
		this.#shown = null;
		return this.#compositor.memory.allocatePlanes(width, height, alpha);
	}

	close(): void {
		if (this.#shown) this.#compositor.forget(this.#shown.planes);
		this.#shown = this.#due = null;
	}
}

function isOpaque(rgba: Uint8ClampedArray): boolean {
	for (let i = 3; i < rgba.length; i += 4) if (rgba[i] !== 255) return false;
	return true;
}
