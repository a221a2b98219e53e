import { isClip } from '../../core/show/clips/source.ts';
import type { PicturePlan } from '../messages.ts';
import { ClipInput } from './clip-input.ts';
import type { PictureInput } from './picture-input.ts';

/** After a take, what comes next waits so long before it gets ready. */
const READY_AFTER_MS = 1000;

/** Lets clips play as the plan says, and get ready before viewers see them. */
export class ClipsOnPlan {
	readonly #fps: number;
	/** Takes that have been followed, and the frame from which on what comes next gets ready. */
	#takes = -1;
	#readyFrom = 0;
	#isReady = true;

	constructor(fps: number) {
		this.#fps = fps;
	}

	/**
	 * Right after a take the machine belongs to what viewers see; what comes next gets ready a moment later.
	 * @param frame the one that is made next
	 * @param now when it falls due, milliseconds since 1970
	 */
	follow(plan: PicturePlan, inputs: ReadonlyMap<string, PictureInput>, frame: number, now: number): void {
		if (plan.take.count !== this.#takes) {
			this.#takes = plan.take.count;
			this.#readyFrom = frame + Math.round((READY_AFTER_MS * this.#fps) / 1000);
		}
		this.#isReady = frame >= this.#readyFrom;
		const wanted = wantedSources(plan, this.#isReady);
		for (const source of plan.sources) {
			const input = inputs.get(source.id);
			if (isClip(source) && input instanceof ClipInput)
				input.follow(source, plan.transports[source.id], wanted.has(source.id), frame, now);
		}
	}

	/** True when the moment after a take is over with this frame, so that the plan is to be followed once more. */
	waitsNoMoreAt(frame: number): boolean {
		return !this.#isReady && frame >= this.#readyFrom;
	}
}

/**
 * Sources that viewers see, or that a take would show them.
 * @param withNext also those that only come next
 */
function wantedSources(plan: PicturePlan, withNext: boolean): Set<string> {
	const { scenes, drafts, program, next, coming, take, background, overlays, shown } = plan;
	const near = withNext ? [program, take.from, next, coming] : [program, take.from];
	const seen = [...scenes, ...drafts].filter(({ id }) => near.includes(id));
	return new Set([
		...seen.flatMap(({ layers }) => layers.map(({ sourceId }) => sourceId)),
		...seen.flatMap((scene) => (scene.background.is === 'own' ? [scene.background.sourceId] : (background ?? []))),
		...overlays.flatMap((overlay) => (overlay.kind === 'picture' && shown[overlay.id] ? [overlay.sourceId] : [])),
	]);
}
