/** Measures delays, away from the page: it takes a good part of a second. */
import { estimateClap, type ClapEstimate, type Motion } from '../core/sound/clap.ts';
import { estimateDelay, type DelayEstimate } from '../core/sound/delay-estimate.ts';
import { findEcho } from '../core/sound/echo.ts';

export type ToDelay =
	| { measure: 'sounds'; early: Float32Array; late: Float32Array }
	| { measure: 'clap'; motion: Motion[]; sound: Float32Array; startMs: number }
	/** @property looks by microphone, what came in at one or several times */
	| { measure: 'echo'; tone: Float32Array; looks: Float32Array[][] };
/** For an echo: by microphone, whether it hears the tone. */
export type FromDelay = DelayEstimate | ClapEstimate | boolean[];

onmessage = ({ data }: MessageEvent<ToDelay>) => {
	postMessage(measure(data));
};

function measure(data: ToDelay): FromDelay {
	switch (data.measure) {
		case 'sounds':
			return estimateDelay(data.early, data.late);
		case 'clap':
			return estimateClap(data.motion, data.sound, data.startMs);
		case 'echo':
			return data.looks.map((looks) => findEcho(looks, data.tone) !== null);
	}
}
