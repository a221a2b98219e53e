/** A screen, window or tab that a person shares with the desk. */
import { LIVE_PICTURE } from '../kind.ts';

export const screen = { ...LIVE_PICTURE, fields: {}, mayStandStill: true, scrolls: true, showsLips: false };
