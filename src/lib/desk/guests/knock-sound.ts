/** Says by a sound that somebody waits at the door: in the headphones, else on this machine, never on the stream. */
import type { Engine } from '../../../engine/engine.ts';
import { isQuiet } from '../../troubles/alarm.ts';

const RATE = 48_000;
/** Two wooden knocks. */
const KNOCKS_S = [0, 0.16];
const LENGTH_S = 0.4;
const HZ = 520;
const FADES_S = 0.025;
const PEAK = 0.2;

function knocks(): Float32Array<ArrayBuffer> {
	return Float32Array.from({ length: LENGTH_S * RATE }, (_, i) =>
		KNOCKS_S.reduce((sum, from) => {
			const t = i / RATE - from;
			return t < 0 ? sum : sum + PEAK * Math.exp(-t / FADES_S) * Math.sin(2 * Math.PI * HZ * t);
		}, 0),
	);
}

/** @param hears true while the person at the desk has headphones on that play something */
export function playKnock(engine: Engine | null, hears: boolean): void {
	if (hears && engine?.headphones) return engine.headphones.playOnce(knocks());
	if (isQuiet()) return;
	const audio = new AudioContext({ sampleRate: RATE });
	const buffer = new AudioBuffer({ length: LENGTH_S * RATE, sampleRate: RATE });
	buffer.copyToChannel(knocks(), 0);
	const player = new AudioBufferSourceNode(audio, { buffer });
	player.connect(audio.destination);
	player.onended = () => void audio.close();
	player.start();
}
