/** The graphics of overlays: lower thirds and tickers, drawn when what they say has changed. */
import type { Compositor } from '../../core/picture/compositor.ts';
import type { Graphic, PictureInfo } from '../../core/picture/draw-list.ts';
import type { Size } from '../../core/picture/geometry.ts';
import type { Planes } from '../../core/picture/planes.ts';
import type { Look } from '../../core/show/event/look.ts';
import type { Overlay } from '../../core/show/overlays/overlay.ts';
import type { Fit, Slide } from '../../core/words/cutting.ts';
import type { PicturePlan } from '../messages.ts';
import { LazyDrawing, type Drawing } from './lazy-drawing.ts';

/** Pixels a ticker moves per second, in parts of the picture's width. */
const TICKER_SPEED = 0.09;

/** Rows, and how their languages stand. */
export type WordsLine = Slide & Pick<Fit, 'languages'>;
export type WordsPlace = Pick<Overlay & { kind: 'words' }, 'ground' | 'place'>;

/** How overlays are drawn; a canvas does it in the browser. */
export interface OverlayDrawings {
	lowerThird(name: string, role: string, side: 'left' | 'right', look: Look, picture: Size): Drawing;
	ticker(text: string, look: Look, picture: Size): Drawing;
	words(line: WordsLine, on: WordsPlace, look: Look, picture: Size): Drawing;
}

const graphicId = (overlayId: string) => `overlay ${overlayId}`;

export class Graphics {
	#compositor: Compositor;
	#picture: Size & { fps: number };
	#drawings: OverlayDrawings;
	/** By the id of their picture. */
	#shown = new Map<string, LazyDrawing>();
	/** Pictures of the lines that stand, by overlay. */
	#lines = new Map<string, string>();

	constructor(compositor: Compositor, picture: Size & { fps: number }, drawings: OverlayDrawings) {
		this.#compositor = compositor;
		this.#picture = picture;
		this.#drawings = drawings;
	}

	/** Notes what has to be drawn anew and gives back what is gone. */
	follow(plan: PicturePlan): void {
		const wanted = new Set<string>();
		for (const overlay of plan.overlays)
			if (overlay.kind === 'words') this.#wantLines(overlay, plan).forEach((id) => wanted.add(id));
			else if (this.#want(overlay, plan)) wanted.add(graphicId(overlay.id));
		for (const [id, drawing] of this.#shown) {
			if (wanted.has(id)) continue;
			drawing.close();
			this.#shown.delete(id);
		}
	}

	#want(overlay: Overlay, { people, look }: PicturePlan): boolean {
		const picture = this.#picture;
		if (overlay.kind === 'ticker') {
			const draw = () => this.#drawings.ticker(overlay.text, look, picture);
			this.#drawingOf(overlay.id).want(JSON.stringify([overlay.text, look]), draw);
			return true;
		}
		if (overlay.kind !== 'lowerThird') return false;
		const person = people.find(({ id }) => id === overlay.personId);
		if (!person) return false;
		const { name, role } = person;
		const draw = () => this.#drawings.lowerThird(name, role, overlay.side, look, picture);
		this.#drawingOf(overlay.id).want(JSON.stringify([name, role, overlay.side, look]), draw);
		return true;
	}

	/**
	 * The line that stands and the one that comes are pictures of their own, so that a press shows one that is drawn already.
	 * @returns the ids of both; that of the last line also while none stands, since it is still moving out
	 */
	#wantLines({ id: overlayId, ground, place }: Overlay & { kind: 'words' }, plan: PicturePlan): string[] {
		const { line, comingLine, languages, look } = plan;
		const idOf = (step: Slide) => {
			const { rows, size } = step;
			const from = JSON.stringify([rows, size, languages, ground, place, look]);
			const id = `${graphicId(overlayId)} ${from}`;
			const draw = () => this.#drawings.words({ rows, size, languages }, { ground, place }, look, this.#picture);
			this.#drawing(id).want(from, draw);
			return id;
		};
		if (line) this.#lines.set(overlayId, idOf(line));
		const standing = this.#lines.get(overlayId);
		return [...(standing === undefined ? [] : [standing]), ...(comingLine ? [idOf(comingLine)] : [])];
	}

	#drawingOf(overlayId: string): LazyDrawing {
		return this.#drawing(graphicId(overlayId));
	}

	#drawing(id: string): LazyDrawing {
		const drawing = this.#shown.get(id) ?? new LazyDrawing(this.#compositor);
		this.#shown.set(id, drawing);
		return drawing;
	}

	/** Those that nobody has asked for yet. */
	get due(): LazyDrawing[] {
		return [...this.#shown.values()].filter(({ isDue }) => isDue);
	}

	info(id: string): PictureInfo | null {
		return this.#shown.get(id)?.shown?.info ?? null;
	}

	planes(id: string): Planes | null {
		return this.#shown.get(id)?.shown?.planes ?? null;
	}

	/** An overlay's graphic as it lies `age` frames after it was shown: a long ticker runs, from its first word. */
	graphic(overlayId: string, age: number): Graphic | null {
		const id = this.#lines.get(overlayId) ?? graphicId(overlayId);
		const shown = this.#shown.get(id)?.shown;
		if (!shown) return null;
		const { at, info } = shown;
		const { width: length, height } = info;
		if (length <= at.width) return { pictureId: id, pieces: [{ from: { x: 0, y: 0, width: length, height }, to: at }] };
		const { width } = this.#picture;
		const offset = 2 * Math.floor((((age * TICKER_SPEED * width) / this.#picture.fps) % length) / 2);
		const first = Math.min(at.width, length - offset);
		const piece = (from: number, pieceLength: number, to: number) => ({
			from: { x: from, y: 0, width: pieceLength, height },
			to: { ...at, x: at.x + to, width: pieceLength },
		});
		const rest = at.width - first;
		return { pictureId: id, pieces: [piece(offset, first, 0), ...(rest > 0 ? [piece(0, rest, first)] : [])] };
	}
}
