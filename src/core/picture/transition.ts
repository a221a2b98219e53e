/** From one scene to another: what the program is at each moment of a transition. */
import type { Scene, Transition } from '../show/scenes/scene.ts';
import { yuvOf } from './colour.ts';
import { partSteps, sceneParts, sceneSteps, type DrawList, type DrawStep, type Part, type Stage } from './draw-list.ts';
import { between, type Size } from './geometry.ts';

type Scenery = Pick<Scene, 'layers' | 'background'> | null;

/** Progress after easing: 0 and 1 stay, an eased curve begins and ends slowly. */
export function curved(progress: number, curve: Transition['curve']): number {
	const p = Math.min(1, Math.max(0, progress));
	return curve === 'even' ? p : p * p * (3 - 2 * p);
}

/**
 * The program's scenes at `progress` of a transition, 0 to 1.
 * @returns the base of a draw list
 */
export function transitionBase(
	from: Scenery,
	to: Scenery,
	transition: Transition,
	progress: number,
	stage: Stage,
): DrawList['base'] {
	const { kind, direction } = transition;
	const p = kind === 'cut' ? 1 : curved(progress, transition.curve);
	if (p <= 0) return { steps: sceneSteps(from, stage) };
	if (p >= 1) return { steps: sceneSteps(to, stage) };
	if (kind === 'glide')
		return { steps: partSteps(glided(sceneParts(from, stage), sceneParts(to, stage), p, stage.picture), stage) };
	if (kind === 'dip') {
		const { picture } = stage;
		const colour: DrawStep[] = [
			{ step: 'fill', colour: yuvOf(transition.colour), to: { x: 0, y: 0, ...picture }, opacity: 256, mask: null },
		];
		return p < 0.5 ? mixed(sceneSteps(from, stage), colour, 2 * p) : mixed(colour, sceneSteps(to, stage), 2 * p - 1);
	}
	const [before, after] = [sceneSteps(from, stage), sceneSteps(to, stage)];
	if (kind === 'fade') return mixed(before, after, p);
	if (kind === 'wipe') return { from: before, to: after, joined: { way: 'wipe', direction, progress: p } };
	const { width, height } = stage.picture;
	const left = 2 * Math.round(((1 - p) * width) / 2);
	const top = 2 * Math.round(((1 - p) * height) / 2);
	const [dx, dy] = { left: [left, 0], right: [-left, 0], up: [0, top], down: [0, -top] }[slideWay(direction)];
	return { from: before, to: after, joined: { way: 'slide', dx: dx!, dy: dy! } };
}

/** A slide has four ways; the other shapes of a wipe go left. */
function slideWay(direction: Transition['direction']): 'left' | 'right' | 'up' | 'down' {
	return direction === 'right' || direction === 'up' || direction === 'down' ? direction : 'left';
}

function mixed(from: DrawStep[], to: DrawStep[], progress: number): DrawList['base'] {
	const weight = Math.round(256 * progress);
	if (weight === 0) return { steps: from };
	if (weight === 256) return { steps: to };
	return { from, to, joined: { way: 'mix', weight } };
}

/**
 * Sources that are in both scenes travel and scale from one place to the other, in the order of the second scene;
 * the rest of the first fades out behind them and the rest of the second fades in. What is going to be covered as a
 * whole stays as it is, because two halves of a fade let black through.
 */
export function glided(from: readonly Part[], to: readonly Part[], progress: number, picture: Size): Part[] {
	const waiting = [...from];
	const partners = to.map((part) => {
		const at = waiting.findIndex(({ pictureId }) => pictureId === part.pictureId);
		return at < 0 ? null : waiting.splice(at, 1)[0]!;
	});
	const covered = to.some(
		(part, i) => !partners[i] && part.to.width >= picture.width && part.to.height >= picture.height,
	);
	const leaving = waiting.map((part) => (covered ? part : { ...part, opacity: part.opacity * (1 - progress) }));
	const arriving = to.map((part, i): Part => {
		const partner = partners[i];
		if (!partner) return { ...part, opacity: part.opacity * progress };
		const mix = (a: number, b: number) => a + (b - a) * progress;
		return {
			...part,
			from: between(partner.from, part.from, progress),
			to: between(partner.to, part.to, progress),
			opacity: mix(partner.opacity, part.opacity),
			corner: mix(partner.corner, part.corner),
			border: { ...part.border, width: mix(partner.border.width, part.border.width) },
		};
	});
	return [...leaving, ...arriving];
}
