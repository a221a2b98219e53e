import { FRAME_RATES } from '../../core/show/event/picture.ts';
import type { Picture } from '../../core/show/state.ts';

/** All pictures that an event can have, the smaller ones first. */
export const PICTURES: readonly Picture[] = [
	...FRAME_RATES.map((fps): Picture => ({ width: 1280, height: 720, fps })),
	...FRAME_RATES.map((fps): Picture => ({ width: 1920, height: 1080, fps })),
];
