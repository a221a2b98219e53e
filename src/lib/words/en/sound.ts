/** The sentences for what is wrong with the sound, and for what came of measuring it. */
import type { ClapRefusal } from '../../../core/sound/clap.ts';
import type { DelayRefusal } from '../../../core/sound/delay-estimate.ts';
import { offTargetLu, type SoundFault } from '../../../core/sound/sound-health.ts';

/** A sentence on a channel's fault: what, and what to do. */
export function channelFaultWords(name: string, fault: SoundFault, side: 'left' | 'right'): string {
	switch (fault) {
		case 'silent':
		case 'idle':
			return `${name} is open, but nothing comes in. Check its cable and the console, or mute it.`;
		case 'oneSide':
			return `${name} has sound on the ${side} side only. Check the other cable, or put ${side} on both sides in its strip.`;
		case 'outOfPhase':
			return `The two sides of ${name} cancel each other out. Turn one cable’s polarity, or use one side for both.`;
		case 'clipping':
			return `${name} is too loud where it comes in and distorts. Turn it down at the console.`;
		case 'hum':
			return `${name} hums like the mains. Check its cable and its power supply.`;
	}
}

/** A sentence on a fault of the whole mix. */
export function mixFaultWords(fault: SoundFault, side: 'left' | 'right'): string {
	switch (fault) {
		case 'silent':
		case 'idle':
			return 'Viewers have had no sound for 5 s. Check mutes and faders, and that the console is connected.';
		case 'oneSide':
			return `Viewers hear the ${side} side only. Look for the channel with one side, and put it on both.`;
		case 'outOfPhase':
			return 'Left and right cancel each other out: on a telephone there would be no sound. Look for the channel that says so.';
		case 'clipping':
			return 'The mix is too loud. Turn its channels down.';
		case 'hum':
			return 'The mix hums like the mains. Look for the channel that says so.';
	}
}

/** A sentence when the evening is clearly louder or softer than it should be, else empty. */
export function loudnessWords(integrated: number, targetLufs: number): string {
	const off = offTargetLu(integrated, targetLufs);
	if (off === 0) return '';
	const by = Math.round(Math.abs(off));
	return off > 0
		? `The evening is ${by} dB louder than it should be. Turn the whole mix down.`
		: `The evening is ${by} dB softer than it should be. Turn the whole mix up.`;
}

/** A sentence: what is apart, by how much, and what to do. */
export function apartWords(channel: string, camera: string, beforeMs: number): string {
	const by = `${Math.round(Math.abs(beforeMs))} ms`;
	return beforeMs > 0
		? `Sound and picture are apart: ${channel} comes ${by} before the picture of ${camera}. Open ${channel} and measure its delay.`
		: `Sound and picture are apart: ${channel} comes ${by} behind the picture of ${camera}. Look for what makes it late, and set less delay.`;
}

/** A sentence when microphones hear the headphones, else empty. */
export function echoWords(names: readonly string[]): string {
	if (names.length === 0) return '';
	const [who, hear] = [names.join(' and '), names.length === 1 ? 'hears' : 'hear'];
	return `${who} ${hear} what this desk plays: viewers would get an echo. Use closed headphones, or turn them down.`;
}

/** Why a delay could not be measured, and what to do. */
export const delayRefusals: Record<ClapRefusal | DelayRefusal, string> = {
	noClapHeard: 'No clap was heard. Clap nearer to the microphone.',
	noClapSeen: 'No clap was seen. Clap in the middle of the picture, with wide arms.',
	clapsDiffer: 'What was seen and what was heard do not fit. Clap three times, a second apart, and nothing else.',
	tooLittle: 'There is too little sound yet. Let both run for two seconds.',
	silent: 'One of them is silent. Let somebody speak, then try again.',
	notTheSame: 'The two sounds are not clearly the same. Let one person speak near the microphone.',
};
