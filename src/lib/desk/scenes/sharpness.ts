/** How sharp a layer will be for viewers, in words when it will not. */
import { cropWithin, fitInto, scaledTo, sharpness, softness } from '../../../core/picture/geometry.ts';
import { WHOLE, type Crop } from '../../../core/show/basics.ts';
import type { Layer } from '../../../core/show/scenes/scene.ts';
import type { Picture, ShowState } from '../../../core/show/state.ts';
import type { SourceCondition } from '../../../engine/sources/open-source.ts';
import { scenes as words } from '../../words/index.ts';

export function sharpnessOf(
	{ sourceId, framingId, crop, box, fit }: Layer,
	{ setup: { sources, picture } }: ShowState,
	conditions: ReadonlyMap<string, SourceCondition>,
): string | null {
	const source = sources.find(({ id }) => id === sourceId);
	const framing = source?.framings.find(({ id }) => id === framingId)?.crop ?? WHOLE;
	return warning(sourceId, cropWithin(framing, crop), box, fit, picture, conditions);
}

/** The same for a framing that fills the picture. */
export function framingSharpness(
	sourceId: string,
	crop: Crop,
	{ setup: { picture } }: ShowState,
	conditions: ReadonlyMap<string, SourceCondition>,
): string | null {
	return warning(sourceId, crop, WHOLE, 'fit', picture, conditions);
}

function warning(
	sourceId: string,
	crop: Crop,
	box: Crop,
	fit: Layer['fit'],
	picture: Picture,
	conditions: ReadonlyMap<string, SourceCondition>,
): string | null {
	const size = conditions.get(sourceId);
	if (!size?.width) return null;
	const { from, to } = fitInto(scaledTo(size, crop), scaledTo(picture, box), fit);
	const value = sharpness(from, to);
	return words.softness[softness(value)](Math.round(value * 100));
}
