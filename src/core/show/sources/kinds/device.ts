/** Fields of sources that are devices of the desk's machine. */
import * as v from 'valibot';

export const deviceFields = {
	/** The browser's id, which may change between sessions; the label finds the device again. */
	deviceId: v.pipe(v.string(), v.maxLength(200)),
	label: v.pipe(v.string(), v.maxLength(200)),
};
