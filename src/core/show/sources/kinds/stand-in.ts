/** Stand-ins that ship with Bivvo, for trying things out: cameras, and a console. */
import * as v from 'valibot';
import { LIVE_PICTURE, ONLY_SOUND } from '../kind.ts';

/** Names one of the stand-ins. */
const standIn = v.pipe(v.string(), v.maxLength(40));

export const standInCamera = { ...LIVE_PICTURE, fields: { standIn } };
export const standInConsole = { ...ONLY_SOUND, fields: { standIn } };
