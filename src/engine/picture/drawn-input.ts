/** Sources whose picture the engine draws itself, from the show or from the pixels of a file. */
import type { Compositor } from '../../core/picture/compositor.ts';
import type { PictureInfo } from '../../core/picture/draw-list.ts';
import type { Size } from '../../core/picture/geometry.ts';
import type { Planes } from '../../core/picture/planes.ts';
import type { Source } from '../../core/show/sources/source.ts';
import type { TextFields } from '../../core/show/sources/words.ts';
import { LazyDrawing, type Drawing, type Fill } from './lazy-drawing.ts';
import type { PictureInput, Treatment } from './picture-input.ts';

/** How sources of a kind are drawn. */
export interface DrawnKind<S = Source> {
	/**
	 * Says all that a source's picture is drawn from: it is drawn anew when that changes.
	 * @param now milliseconds since 1970
	 */
	stamp(source: S, fields: TextFields, now: number): string;
	/** True when that changes as time goes by. */
	ticks: boolean;
	/** False for a source that is not drawn as it is set up; all are when absent. Frames that come for one are shown instead. */
	draws?(source: S): boolean;
	/** @param picture size of the program's picture */
	draw(source: S, fields: TextFields, now: number, picture: Size): Drawing | Fill;
}

/** Common to pictures that lie in one drawing. */
abstract class OneDrawing implements PictureInput {
	readonly drawing: LazyDrawing;
	protected treatment: Treatment | null = null;

	constructor(compositor: Compositor) {
		this.drawing = new LazyDrawing(compositor);
	}

	get info(): PictureInfo | null {
		return this.drawing.shown?.info ?? null;
	}

	/** Says all that the picture was drawn from; null when there is none. */
	get stamp(): string | null {
		return this.drawing.shown?.stamp ?? null;
	}

	planesAt(): Planes | null {
		return this.drawing.shown?.planes ?? null;
	}

	abstract treat(treatment: Treatment | null): void;

	close(): Promise<void> {
		this.drawing.close();
		return Promise.resolve();
	}
}

/** A card, a clock, a colour: drawn from the show. */
export class DrawnInput extends OneDrawing {
	#kind: DrawnKind;
	#picture: Size;
	#follow: { source: Source; fields: TextFields } | null = null;

	constructor(compositor: Compositor, kind: DrawnKind, picture: Size) {
		super(compositor);
		this.#kind = kind;
		this.#picture = picture;
	}

	get ticks(): boolean {
		return this.#kind.ticks;
	}

	/** @param now milliseconds since 1970 */
	follow(source: Source, fields: TextFields, now: number): void {
		this.#follow = { source, fields };
		this.tick(now);
	}

	/** Moves on what changes as time goes by. */
	tick(now: number): void {
		if (!this.#follow) return;
		const { source, fields } = this.#follow;
		const draw = () => this.#kind.draw(source, fields, now, this.#picture);
		this.drawing.want(this.#kind.stamp(source, fields, now), draw, this.treatment);
	}

	treat(treatment: Treatment | null): void {
		this.treatment = treatment;
	}
}

/** A still that was read from its file. */
export class StillInput extends OneDrawing {
	#still: Drawing;

	constructor(compositor: Compositor, still: Drawing) {
		super(compositor);
		this.#still = still;
		this.treat(null);
	}

	treat(treatment: Treatment | null): void {
		this.treatment = treatment;
		this.drawing.want('still', () => this.#still, treatment);
	}
}
