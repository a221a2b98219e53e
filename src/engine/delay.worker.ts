/** Measures delays, away from the page: it takes a good part of a second. */
import { estimateClap, type ClapEstimate, type Motion } from '../core/sound/clap.ts';
import { estimateDelay, type DelayEstimate } from '../core/sound/delay-estimate.ts';

export type ToDelay =
	| { measure: 'sounds'; early: Float32Array; late: Float32Array }
	| { measure: 'clap'; motion: Motion[]; sound: Float32Array; startMs: number };
export type FromDelay = DelayEstimate | ClapEstimate;

onmessage = ({ data }: MessageEvent<ToDelay>) => {
	const found: FromDelay =
		data.measure === 'sounds'
			? estimateDelay(data.early, data.late)
			: estimateClap(data.motion, data.sound, data.startMs);
	postMessage(found);
};
