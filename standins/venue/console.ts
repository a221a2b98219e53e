/** The stand-in console: twelve inputs as the demo's chapel has them, with faults that can be switched on. */
import type { OpenSource, SourceContext } from '../../src/engine/sources/open-source.ts';
import choirLeftUrl from './media/choir-left.flac?url';
import choirRightUrl from './media/choir-right.flac?url';
import fiddleUrl from './media/fiddle.flac?url';
import filmLeftUrl from './media/film-left.flac?url';
import filmRightUrl from './media/film-right.flac?url';
import handheldUrl from './media/handheld.flac?url';
import harmoniumUrl from './media/harmonium.flac?url';
import lecternUrl from './media/lectern-mic.flac?url';
import talkbackUrl from './media/talkback.flac?url';
import { playLoop } from './loop.ts';
import { onBroken, type ConsoleFault } from './faults.ts';

/** By input, from 0: its sound, or what the air of the chapel hears of the others on that side, or nothing. */
const INPUTS: ({ url: string } | { air: 'left' | 'right' } | null)[] = [
	{ url: lecternUrl },
	{ url: handheldUrl },
	{ url: choirLeftUrl },
	{ url: choirRightUrl },
	{ url: fiddleUrl },
	{ url: harmoniumUrl },
	{ url: filmLeftUrl },
	{ url: filmRightUrl },
	{ air: 'left' },
	{ air: 'right' },
	{ url: talkbackUrl },
	null,
];
/** How far each input is from the microphones that hear the room, in seconds of sound; the talkback is not in the room. */
const TO_AIR_S = [0.021, 0.024, 0.013, 0.015, 0.018, 0.027, 0.035, 0.035];
const AIR_GAIN = 0.3;
const LATE_S = 0.18;
/** A microphone by the desk hears what is played there: through the air and two devices, and softer. */
const DESK_S = 0.07;
const DESK_GAIN = 0.1;

export function openConsole({ audio, inRoom }: SourceContext): OpenSource {
	const out = new ChannelMergerNode(audio, { numberOfInputs: INPUTS.length });
	const air = { left: new GainNode(audio, { gain: AIR_GAIN }), right: new GainNode(audio, { gain: AIR_GAIN }) };
	const players: AudioScheduledSourceNode[] = [];
	const lines = INPUTS.map((input, index) => {
		const line = new FaultyLine(audio, inRoom);
		line.out.connect(out, 0, index);
		if (input && 'air' in input) air[input.air].connect(line.in);
		return line;
	});
	let closed = false;
	/** One after the other: all at once they would take the whole machine while pictures are wanted. */
	async function fill(): Promise<void> {
		for (const [index, input] of INPUTS.entries()) {
			if (!input || !('url' in input)) continue;
			const player = await playLoop(audio, input.url);
			if (closed) return player.stop();
			player.connect(lines[index]!.in);
			players.push(player);
			const heardS = TO_AIR_S[index];
			for (const side of ['left', 'right'] as const) {
				if (heardS === undefined) continue;
				// The two microphones of the room stand a metre apart.
				const delay = new DelayNode(audio, { delayTime: heardS + (side === 'left' ? 0 : 0.003) });
				player.connect(delay).connect(air[side]);
			}
		}
	}
	const endSwitches = onBroken(({ input, fault }) => lines[input]?.set(fault));
	const opened: OpenSource = {
		sound: out,
		inputs: INPUTS.length,
		onLost: null,
		close() {
			closed = true;
			endSwitches();
			for (const player of players) player.stop();
			for (const line of lines) line.close();
		},
	};
	fill().catch((error: unknown) =>
		opened.onLost?.({ code: 'standInBroken', about: { problem: (error as Error).message } }),
	);
	return opened;
}

/** One input's way, on which something can be wrong. */
class FaultyLine {
	readonly in: GainNode;
	readonly out: GainNode;
	readonly #delay: DelayNode;
	readonly #shaper: WaveShaperNode;
	readonly #hum: OscillatorNode;
	readonly #humGain: GainNode;
	readonly #desk: GainNode;
	#hears = false;
	readonly #inRoom: AudioNode;
	#dropouts: ReturnType<typeof setInterval> | undefined;

	constructor(audio: BaseAudioContext, inRoom: AudioNode) {
		this.in = new GainNode(audio);
		this.out = new GainNode(audio);
		this.#delay = new DelayNode(audio, { delayTime: 0, maxDelayTime: 1 });
		this.#shaper = new WaveShaperNode(audio);
		this.#hum = new OscillatorNode(audio, { frequency: 50 });
		this.#humGain = new GainNode(audio, { gain: 0 });
		this.in.connect(this.#delay).connect(this.#shaper).connect(this.out);
		this.#hum.connect(this.#humGain).connect(this.out);
		this.#inRoom = inRoom;
		this.#desk = new GainNode(audio, { gain: DESK_GAIN });
		this.#desk.connect(new DelayNode(audio, { delayTime: DESK_S })).connect(this.out);
		this.#hum.start();
	}

	set(fault: ConsoleFault['fault']): void {
		clearInterval(this.#dropouts);
		this.#hear(fault === 'hearsDesk');
		this.out.gain.value = fault === 'dead' ? 0 : 1;
		this.in.gain.value = fault === 'clipping' ? 12 : 1;
		// Without a curve the sound passes as it is; this one is straight up to full scale and flat beyond it.
		this.#shaper.curve = fault === 'clipping' ? new Float32Array([-1, 0, 1]) : null;
		this.#delay.delayTime.value = fault === 'late' ? LATE_S : 0;
		this.#humGain.gain.value = fault === 'hum' ? 0.05 : 0;
		if (fault !== 'dropouts') return;
		let on = true;
		this.#dropouts = setInterval(() => {
			on = !on;
			this.out.gain.value = on ? 1 : 0;
		}, 350);
	}

	#hear(desk: boolean): void {
		if (desk) this.#inRoom.connect(this.#desk);
		else if (this.#hears) this.#inRoom.disconnect(this.#desk);
		this.#hears = desk;
	}

	close(): void {
		clearInterval(this.#dropouts);
		this.#hear(false);
		this.#hum.stop();
	}
}
