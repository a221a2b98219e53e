/** The pictures that are drawn rather than received: cards, clocks, colours, stills, and the overlays' graphics. */
import { adjustTables, yuvOf } from '../core/picture/colour.ts';
import type { Compositor } from '../core/picture/compositor.ts';
import { patchStep, type Graphic, type PictureInfo } from '../core/picture/draw-list.ts';
import type { Size } from '../core/picture/geometry.ts';
import type { Planes } from '../core/picture/planes.ts';
import type { Overlay, PrivacyPatch } from '../core/show/overlays/overlay.ts';
import type { Source } from '../core/show/sources/source.ts';
import { cardText, clockText, type TextFields } from '../core/show/sources/words.ts';
import { drawCard, drawClock, drawLowerThird, drawTicker, type Drawing } from './drawing.ts';
import { closeFrame, readAnimation } from './animation.ts';
import type { PicturePlan } from './messages.ts';

/** Pixels a ticker moves per second, in parts of the picture's width. */
const TICKER_SPEED = 0.09;

interface Shown {
	/** Says all that the picture was drawn from. */
	drawnFrom: string;
	planes: Planes;
	info: PictureInfo;
	at: Drawing['at'];
}

/** A picture that moves: the file, and its frames as they were treated last. */
interface Animation {
	name: string;
	bytes: ArrayBuffer;
	treated: string;
	info: PictureInfo;
	frames: { planes: Planes; endsMs: number }[];
}

export const graphicId = (overlayId: string) => `overlay ${overlayId}`;

export class Gallery {
	#compositor: Compositor;
	#picture: Size & { fps: number };
	#shown = new Map<string, Shown>();
	/** What is to be drawn anew, by picture: done when somebody wants it, or when there is time. */
	#due = new Map<string, { drawnFrom: string; draw: () => Shown }>();
	#stills = new Map<string, { drawing: Drawing; opaque: boolean }>();
	#animations = new Map<string, Animation>();
	#timeMs = 0;
	#plan: PicturePlan | null = null;

	constructor(compositor: Compositor, picture: Size & { fps: number }) {
		this.#compositor = compositor;
		this.#picture = picture;
	}

	/** Notes what has to be drawn anew and gives back what is gone. */
	follow(plan: PicturePlan, now: number): void {
		this.#plan = plan;
		const wanted = new Set<string>();
		for (const source of [...plan.sources, plan.holding])
			if (this.#drawSource(source, plan, now)) wanted.add(source.id);
		for (const overlay of plan.overlays) if (this.#drawOverlay(overlay, plan)) wanted.add(graphicId(overlay.id));
		for (const [id, { planes }] of this.#shown) {
			if (wanted.has(id)) continue;
			this.#compositor.forget(planes);
			this.#shown.delete(id);
		}
		for (const id of this.#due.keys()) if (!wanted.has(id)) this.#due.delete(id);
	}

	/** Draws one picture that nobody has asked for yet. False when there is none. */
	drawAhead(): boolean {
		const [id] = this.#due.keys();
		if (id === undefined) return false;
		this.#drawn(id);
		return true;
	}

	/** A picture as the plan wants it now. */
	#drawn(id: string): Shown | undefined {
		const due = this.#due.get(id);
		if (due) {
			this.#due.delete(id);
			this.#shown.set(id, due.draw());
		}
		return this.#shown.get(id);
	}

	/** Moves the clocks on. Call as often as they should be right. */
	tick(now: number): void {
		for (const source of this.#plan?.sources ?? [])
			if (source.origin.from === 'clock') this.#drawSource(source, this.#plan!, now);
	}

	/** What a drawn picture was drawn from, or null while it is not there. */
	stamp(id: string): string | null {
		return this.#drawn(id)?.drawnFrom ?? null;
	}

	/** A still that was read from its file. */
	addStill(sourceId: string, still: Drawing): void {
		this.#stills.set(sourceId, { drawing: still, opaque: isOpaque(still.rgba) });
		if (this.#plan) this.follow(this.#plan, Date.now());
	}

	/**
	 * A file with pictures that move. They are read once, treated as the plan says, and held ready.
	 * @throws with a sentence when they cannot be read
	 */
	async addAnimation(sourceId: string, name: string, bytes: ArrayBuffer): Promise<Size> {
		const animation = { name, bytes, treated: '', info: { width: 0, height: 0, alpha: true }, frames: [] };
		this.#animations.set(sourceId, animation);
		await this.#readAnimation(sourceId, animation);
		return animation.info;
	}

	removeStill(sourceId: string): void {
		this.#stills.delete(sourceId);
		for (const { planes } of this.#animations.get(sourceId)?.frames ?? []) this.#compositor.forget(planes);
		this.#animations.delete(sourceId);
	}

	/** @param timeMs on the engine's clock, for pictures that move */
	showAt(timeMs: number): void {
		this.#timeMs = timeMs;
	}

	info(id: string): PictureInfo | null {
		const animation = this.#animations.get(id);
		return (animation?.frames.length ? animation.info : this.#drawn(id)?.info) ?? null;
	}

	planes(id: string): Planes | null {
		const frames = this.#animations.get(id)?.frames;
		if (!frames?.length) return this.#drawn(id)?.planes ?? null;
		const at = this.#timeMs % frames.at(-1)!.endsMs;
		return frames.find(({ endsMs }) => at < endsMs)!.planes;
	}

	/** Reads all frames anew; the former ones are shown until then. */
	async #readAnimation(sourceId: string, animation: Animation): Promise<void> {
		const source = this.#plan?.sources.find(({ id }) => id === sourceId);
		const patches = this.#patchesOn(sourceId);
		const treated = JSON.stringify([source?.adjust, patches]);
		animation.treated = treated;
		const isNewest = () => this.#animations.get(sourceId) === animation && animation.treated === treated;
		const frames: Animation['frames'] = [];
		let size: Size = { width: 0, height: 0 };
		try {
			for await (const frame of readAnimation(animation.bytes, animation.name)) {
				if (!isNewest()) {
					closeFrame(frame);
					break;
				}
				size = { width: frame.width, height: frame.height };
				const planes = this.#compositor.memory.allocatePlanes(size.width, size.height, true);
				frames.push({ planes, endsMs: frame.endsMs });
				if ('rgba' in frame) this.#compositor.fromRgba(planes, frame.rgba);
				else await this.#fromFilm(planes, frame.film, frame.alpha).finally(() => closeFrame(frame));
				const steps = patches.map((patch) => patchStep(patch, size));
				this.#compositor.treat(planes, source ? adjustTables(source.adjust) : null, steps);
			}
		} catch (error) {
			for (const { planes } of frames) this.#compositor.forget(planes);
			throw error;
		}
		const unused = isNewest() ? animation.frames : frames;
		for (const { planes } of unused) this.#compositor.forget(planes);
		if (unused !== frames) Object.assign(animation, { frames, info: { ...size, alpha: true } });
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

	#patchesOn(sourceId: string): PrivacyPatch[] {
		return this.#plan?.patches.filter((patch) => patch.on && patch.sourceId === sourceId) ?? [];
	}

	/** An overlay's graphic as it lies `age` frames after it was shown: a long ticker runs, from its first word. */
	graphic(overlayId: string, age: number): Graphic | null {
		const id = graphicId(overlayId);
		const shown = this.#drawn(id);
		if (!shown) return null;
		const { at, info } = shown;
		if (info.width <= at.width) return { pictureId: id, pieces: [{ from: { x: 0, y: 0, ...size(info) }, to: at }] };
		const { width } = this.#picture;
		const offset = 2 * Math.floor((((age * TICKER_SPEED * width) / this.#picture.fps) % info.width) / 2);
		const first = Math.min(at.width, info.width - offset);
		const piece = (from: number, length: number, to: number) => ({
			from: { x: from, y: 0, width: length, height: info.height },
			to: { ...at, x: at.x + to, width: length },
		});
		const rest = at.width - first;
		return { pictureId: id, pieces: [piece(offset, first, 0), ...(rest > 0 ? [piece(0, rest, first)] : [])] };
	}

	#drawSource({ id, origin, adjust }: Source, plan: PicturePlan, now: number): boolean {
		const patches = this.#patchesOn(id);
		const treated = JSON.stringify([adjust, patches]);
		const show = (from: string, opaque: boolean, draw: () => Drawing) =>
			this.#show(id, from + treated, opaque, draw, adjust, patches);
		switch (origin.from) {
			case 'card': {
				const texts = origin.card.lines.map((line) => cardText(line, fieldsOf(plan)));
				show(JSON.stringify([origin.card, texts]), true, () => drawCard(origin.card, texts, this.#picture));
				return true;
			}
			case 'clock': {
				const text = clockText(origin.clock, now);
				const { paper, ink } = origin;
				show(JSON.stringify([text, paper, ink]), true, () => drawClock(text, paper, ink, this.#picture));
				return true;
			}
			case 'colour':
				this.#showColour(id, origin.colour);
				return true;
			case 'file': {
				const animation = this.#animations.get(id);
				if (animation && animation.treated !== treated)
					void this.#readAnimation(id, animation).catch((error) => reportError(error));
				const still = this.#stills.get(id);
				if (!still) return false;
				show(origin.fileId, still.opaque, () => still.drawing);
				return true;
			}
			default:
				return false;
		}
	}

	#drawOverlay(overlay: Overlay, plan: PicturePlan): boolean {
		const id = graphicId(overlay.id);
		if (overlay.kind === 'ticker') {
			this.#show(id, overlay.text, true, () => drawTicker(overlay.text, this.#picture));
			return true;
		}
		if (overlay.kind !== 'lowerThird') return false;
		const person = plan.people.find((each) => each.id === overlay.personId);
		if (!person) return false;
		const { name, role } = person;
		const draw = () => drawLowerThird(name, role, overlay.side, this.#picture);
		this.#show(id, JSON.stringify([name, role, overlay.side]), false, draw);
		return true;
	}

	#show(
		id: string,
		drawnFrom: string,
		opaque: boolean,
		draw: () => Drawing,
		adjust: Source['adjust'] | null = null,
		patches: readonly PrivacyPatch[] = [],
	): void {
		this.#want(id, drawnFrom, () => {
			const drawing = draw();
			const { width, height, at } = drawing;
			const planes = this.#planesFor(id, drawing, !opaque);
			this.#compositor.fromRgba(planes, drawing.rgba);
			const steps = patches.map((patch) => patchStep(patch, drawing));
			this.#compositor.treat(planes, adjust && adjustTables(adjust), steps);
			return { drawnFrom, planes, info: { width, height, alpha: !opaque }, at };
		});
	}

	#showColour(id: string, colour: string): void {
		this.#want(id, colour, () => {
			const { width, height } = this.#picture;
			const planes = this.#planesFor(id, this.#picture, false);
			this.#compositor.fillPlanes(planes, yuvOf(colour));
			const at = { x: 0, y: 0, width, height };
			return { drawnFrom: colour, planes, info: { width, height, alpha: false }, at };
		});
	}

	#want(id: string, drawnFrom: string, draw: () => Shown): void {
		if ((this.#due.get(id) ?? this.#shown.get(id))?.drawnFrom === drawnFrom) return;
		this.#due.set(id, { drawnFrom, draw });
	}

	#planesFor(id: string, { width, height }: Size, alpha: boolean): Planes {
		const known = this.#shown.get(id);
		const same = known && known.info.width === width && known.info.height === height && known.info.alpha === alpha;
		if (same) return known.planes;
		if (known) this.#compositor.forget(known.planes);
		return this.#compositor.memory.allocatePlanes(width, height, alpha);
	}
}

function fieldsOf({ title, startsAt, people }: PicturePlan): TextFields {
	return { title, startsAt, people };
}

function size({ width, height }: Size): Size {
	return { width, height };
}

function isOpaque(rgba: Uint8ClampedArray): boolean {
	for (let i = 3; i < rgba.length; i += 4) if (rgba[i] !== 255) return false;
	return true;
}
