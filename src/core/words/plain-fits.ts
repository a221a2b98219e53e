/** How words are cut when nobody has said otherwise, for a picture 1920 wide and 1080 high. */
import type { Fit } from './cutting.ts';

/** A screen for those who sing: a whole verse, large. */
export const HALL: Readonly<Fit> = { width: 1700, height: 880, size: 96, lines: 0, languages: 'first' };
/** Over the lower part of the picture: two lines that hide nobody's face. */
export const STREAM: Readonly<Fit> = { width: 1680, height: 190, size: 68, lines: 2, languages: 'first' };
