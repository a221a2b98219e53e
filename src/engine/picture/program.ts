/** What is on air at each frame: the show's newest take, played out on the engine's clock. */
import { sceneSteps, stepsAbove, type DrawList, type GraphicOf, type Stage } from '../../core/picture/draw-list.ts';
import { transitionBase } from '../../core/picture/transition.ts';
import { CUT, type Scene, type Transition } from '../../core/show/scenes/scene.ts';
import type { Picture } from '../../core/show/state.ts';
import type { PicturePlan } from '../messages.ts';
import { OverlayMoves } from './overlay-moves.ts';

/** How long the hand lever takes from end to end when it is let go, and how long going black takes. */
const LEVER_MS = 250;
const BLACK_MS = 300;
/** How long guests take to make room for another one. */
const GATHER_MS = 500;

/** A transition under way, from a scene or back to it. */
interface Running {
	/** The scene that is not the program: what is left, or what is called back. */
	other: Scene | null;
	transition: Transition;
	startFrame: number;
	frames: number;
	/** Progress at its start; it goes to 1, or to 0 when it is called back. */
	startProgress: number;
	back: boolean;
}

export class Program {
	#picture: Picture;
	#plan: PicturePlan | null = null;
	#running: Running | null = null;
	#overlays: OverlayMoves;
	/** Where lever and blackness are; they follow the show at their own pace. */
	#lever = 0;
	#black = 0;

	constructor(picture: Picture) {
		this.#picture = picture;
		this.#overlays = new OverlayMoves(picture.fps);
	}

	/**
	 * Takes a new plan; a take it brings starts with the next frame.
	 * @param nextFrame number of the frame that will be made next
	 * @param now milliseconds since 1970
	 */
	follow(plan: PicturePlan, nextFrame: number, now: number): void {
		const before = this.#plan;
		// Without a plan before, a take of before a reload is not played again.
		if (before && plan.take.count !== before.take.count) {
			const left = this.scene(before.program);
			this.#running = plan.take.calledBack
				? this.#backFrom(left, plan, nextFrame)
				: this.#begun(left, before.next, plan, nextFrame);
			this.#lever = 0;
		} else if (before) this.#gather(before, plan, nextFrame);
		this.#plan = plan;
		this.#overlays.follow(plan.overlays, shownOf(plan), nextFrame, now);
	}

	/** Somebody has come to a scene that shows whoever is there, or has gone: the others make room. */
	#gather(before: PicturePlan, plan: PicturePlan, startFrame: number): void {
		if (this.#running) return;
		const sceneIn = ({ scenes, program }: PicturePlan) => scenes.find(({ id }) => id === program) ?? null;
		const [left, now] = [sceneIn(before), sceneIn(plan)];
		if (!left?.gathers || !now?.gathers || left.id !== now.id) return;
		if (JSON.stringify(left.layers) === JSON.stringify(now.layers)) return;
		const transition: Transition = { ...CUT, kind: 'glide', durationMs: GATHER_MS, curve: 'eased' };
		const frames = framesOf(transition, this.#picture);
		this.#running = { other: left, transition, startFrame, frames, startProgress: 0, back: false };
	}

	/** With the lever half way it goes on from there; to a third scene it leaves the one of the two that is seen more. */
	#begun(left: Scene | null, next: string | null, { program, take }: PicturePlan, startFrame: number): Running | null {
		const frames = framesOf(take.transition, this.#picture);
		if (frames === 0) return null;
		const lever = this.#lever;
		const onward = lever > 0 && program === next;
		return {
			other: lever > 0.5 && !onward ? this.scene(next) : left,
			transition: onward ? { ...take.transition, curve: 'even' } : take.transition,
			startFrame,
			frames,
			startProgress: onward ? lever : 0,
			back: false,
		};
	}

	#backFrom(left: Scene | null, { take }: PicturePlan, nextFrame: number): Running | null {
		const { transition } = take;
		const frames = framesOf(transition, this.#picture);
		if (frames === 0) return null;
		const startProgress = this.#running && !this.#running.back ? progressOf(this.#running, nextFrame - 1) : 1;
		return { other: left, transition, startFrame: nextFrame, frames, startProgress, back: true };
	}

	scene(sceneId: string | null): Scene | null {
		return this.#plan?.scenes.find(({ id }) => id === sceneId) ?? null;
	}

	/** What a take would put on air: with the changes that wait for it. */
	get next(): Scene | null {
		const id = this.#plan?.next ?? null;
		return this.#plan?.drafts.find((draft) => draft.id === id) ?? this.scene(id);
	}

	/** What frame number `frame` shows. Its first frame of a transition already differs from the one before. */
	list(frame: number, stage: Stage, graphicOf: GraphicOf): DrawList {
		const plan = this.#plan;
		if (!plan) return { base: { steps: sceneSteps(null, stage) }, above: [], black: 0 };
		const { fps } = this.#picture;
		this.#lever = towards(this.#lever, plan.lever, 1000 / LEVER_MS / fps);
		this.#black = towards(this.#black, plan.black ? 1 : 0, 1000 / BLACK_MS / fps);
		const list = {
			base: this.#base(plan, frame, stage),
			above: stepsAbove(this.#overlays.shown(frame), plan.program, graphicOf, plan.patches, stage),
			black: Math.round(256 * this.#black),
		};
		// What nobody sees is not made.
		return this.#black === 1 ? { ...list, base: { steps: sceneSteps(null, stage) }, above: [] } : list;
	}

	#base(plan: PicturePlan, frame: number, stage: Stage): DrawList['base'] {
		const onAir = this.scene(plan.program);
		const running = this.#running;
		if (running) {
			const progress = progressOf(running, frame);
			if (progress > 0 && progress < 1) {
				const [from, to] = running.back ? [onAir, running.other] : [running.other, onAir];
				return transitionBase(from, to, running.transition, progress, stage);
			}
			this.#running = null;
		}
		if (this.#lever === 0) return { steps: sceneSteps(onAir, stage) };
		const { next } = this;
		const chosen = next?.transition ?? plan.transition;
		// A cut has no way to be half done.
		const transition: Transition = chosen.kind === 'cut' ? { ...CUT, kind: 'fade' } : chosen;
		return transitionBase(onAir, next, { ...transition, curve: 'even' }, this.#lever, stage);
	}
}

/** Overlays of words are seen only while a line stands. */
function shownOf({ overlays, shown, line }: PicturePlan): PicturePlan['shown'] {
	if (line) return shown;
	const words = new Set(overlays.filter(({ kind }) => kind === 'words').map(({ id }) => id));
	return Object.fromEntries(Object.entries(shown).filter(([id]) => !words.has(id)));
}

function framesOf({ kind, durationMs }: Transition, { fps }: Picture): number {
	return kind === 'cut' ? 0 : Math.round((durationMs * fps) / 1000);
}

function progressOf({ startFrame, frames, startProgress, back }: Running, frame: number): number {
	const gone = (frame - startFrame + 1) / (frames + 1);
	return back ? startProgress - gone : startProgress + gone;
}

function towards(value: number, target: number, step: number): number {
	return value < target ? Math.min(target, value + step) : Math.max(target, value - step);
}
