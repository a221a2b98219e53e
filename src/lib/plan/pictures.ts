/** Pictures that an event may have, as forms offer them. */
import type { Picture } from '../../core/show/state.ts';
import { plan as words } from '../words/index.ts';

export const SIZES = [
	{ value: '1280x720', name: words.size720 },
	{ value: '1920x1080', name: words.size1080 },
];
export const FRAME_RATES = [25, 30, 50, 60].map((each) => ({ value: String(each), name: words.frames(each) }));

/** @param size a value of SIZES @param fps a value of FRAME_RATES */
export function pictureOf(size: string, fps: string): Picture {
	const [width, height] = size.split('x').map(Number);
	return { width: width!, height: height!, fps: Number(fps) } as Picture;
}
