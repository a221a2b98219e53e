/** Measures delays, away from the page: it takes a good part of a second. */
import { estimateClap, type ClapEstimate, type Motion } from '../core/sound/clap.ts';
import { estimateDelay, type DelayEstimate } from '../core/sound/delay-estimate.ts';
import { findEcho } from '../core/sound/echo.ts';

export type ToDelay =
	| { measure: 'sounds'; early: Float32Array; late: Float32Array }
	| { measure: 'clap'; motion: Motion[]; sound: Float32Array; startMs: number }
	| { measure: 'echo'; tone: Float32Array; sounds: Float32Array[] };
/** For an echo: by sound, whether the tone is in it. */
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
			return data.sounds.map((sound) => findEcho(sound, data.tone) !== null);
	}
}
