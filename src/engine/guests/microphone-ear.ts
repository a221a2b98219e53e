/**
 * Listens to a guest's own microphone: how loud it is, how a voice comes in, and whether it hears the loudspeaker; and to what
 * they hear, which must not come back.
 */
import { judgeVoice, measureVoice, type VoiceAdvice } from '../../core/guests/voice-check.ts';
import { ECHO_LISTEN_S, echoTone, findEcho } from '../../core/sound/echo.ts';
import type { DelayEstimate } from '../../core/sound/delay-estimate.ts';
import { HEARD_BACK_S } from '../../core/sound/heard-back.ts';
import { inDelayWorker } from '../in-delay-worker.ts';
import type { Piece } from './listen.worklet.ts';
import listenWorkletUrl from './listen.worklet.ts?worker&url';

const RATE = 48_000;
/** By so many seconds a voice is judged. */
const JUDGED_S = 4;
const FLOOR_DB = -100;

/** A sound that is listened to. */
interface Listened {
	node: AudioWorkletNode | null;
	source: MediaStreamAudioSourceNode | null;
	tail: Tail;
	/** Counts what was to be listened to. */
	turn: number;
}

/** The newest pieces of a sound, the oldest first. */
class Tail {
	#pieces: Piece[] = [];

	add(piece: Piece): void {
		const last = this.#pieces.at(-1);
		// After a gap nothing follows on what was before.
		if (last && last.from + last.samples.length !== piece.from) this.#pieces = [];
		this.#pieces.push(piece);
		if (this.#pieces.length * piece.samples.length > JUDGED_S * RATE) this.#pieces.shift();
	}

	forget(): void {
		this.#pieces = [];
	}

	/** Numbers of its first sample and of the one after its last, on the context's clock. */
	get from(): number {
		return this.#pieces[0]?.from ?? 0;
	}

	get to(): number {
		return this.from + this.samples.length;
	}

	get samples(): Float32Array {
		const samples = new Float32Array(this.#pieces.reduce((sum, piece) => sum + piece.samples.length, 0));
		let at = 0;
		for (const piece of this.#pieces) {
			samples.set(piece.samples, at);
			at += piece.samples.length;
		}
		return samples;
	}
}

export class MicrophoneEar {
	readonly #audio: AudioContext;
	#module: Promise<void> | null = null;
	readonly #own: Listened;
	readonly #played: Listened;
	/** Level of the newest piece, dB below full scale. */
	levelDb = FLOOR_DB;

	constructor() {
		this.#audio = new AudioContext({ sampleRate: RATE, latencyHint: 'playback', sinkId: { type: 'none' } });
		this.#own = { node: null, source: null, tail: new Tail(), turn: 0 };
		this.#played = { node: null, source: null, tail: new Tail(), turn: 0 };
	}

	listen(track: MediaStreamTrack | null): Promise<void> {
		this.levelDb = FLOOR_DB;
		return this.#listenTo(this.#own, track, ({ samples }) => {
			const power = samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length;
			this.levelDb = Math.max(FLOOR_DB, 10 * Math.log10(power));
		});
	}

	/** What the guest hears, as it is played to them. */
	listenToPlayed(track: MediaStreamTrack | null): Promise<void> {
		return this.#listenTo(this.#played, track);
	}

	async #listenTo(
		listened: Listened,
		track: MediaStreamTrack | null,
		heard: (piece: Piece) => void = () => {},
	): Promise<void> {
		listened.source?.disconnect();
		listened.source = null;
		listened.tail.forget();
		const turn = ++listened.turn;
		if (!track) return;
		await (this.#module ??= this.#audio.audioWorklet.addModule(listenWorkletUrl));
		// Another track may have been named meanwhile.
		if (this.#audio.state === 'closed' || turn !== listened.turn) return;
		if (!listened.node) {
			const node = new AudioWorkletNode(this.#audio, 'bivvo-listen', { numberOfOutputs: 0, channelCount: 1 });
			node.port.onmessage = ({ data }: MessageEvent<Piece>) => {
				listened.tail.add(data);
				heard(data);
			};
			listened.node = node;
		}
		listened.source = this.#audio.createMediaStreamSource(new MediaStream([track]));
		listened.source.connect(listened.node);
	}

	/** By how much the microphone is behind what is played, in so far as it hears it; null before enough was heard. */
	async heardBack(): Promise<DelayEstimate | null> {
		const [own, played] = [this.#own.tail, this.#played.tail];
		const to = Math.min(own.to, played.to);
		const from = to - HEARD_BACK_S * RATE;
		if (from < Math.max(own.from, played.from)) return null;
		const [early, late] = [played, own].map((tail) => tail.samples.slice(from - tail.from, to - tail.from));
		return (await inDelayWorker({ measure: 'sounds', early: early!, late: late! })) as DelayEstimate;
	}

	/** What should be changed about the microphone; undefined before it has been heard for long enough. */
	get advice(): VoiceAdvice | null | undefined {
		const { samples } = this.#own.tail;
		return samples.length < 0.9 * JUDGED_S * RATE ? undefined : judgeVoice(measureVoice(samples, RATE));
	}

	/** Browsers hold sound back until something was pressed. */
	async wake(): Promise<void> {
		if (this.#audio.state === 'suspended') await this.#audio.resume();
	}

	/**
	 * Plays a short tone and listens for it.
	 * @param outputId where it is played; empty for the system's own output
	 * @returns whether the microphone hears what is played here
	 */
	async hearsLoudspeaker(outputId: string): Promise<boolean> {
		await this.wake();
		const tone = echoTone(RATE);
		const out = this.#audio.createMediaStreamDestination();
		const player = new Audio();
		player.srcObject = out.stream;
		// Some browsers play on the system's output only.
		if (outputId !== '' && 'setSinkId' in player) await player.setSinkId(outputId);
		await player.play();
		const buffer = new AudioBuffer({ length: tone.length, sampleRate: RATE });
		buffer.copyToChannel(tone, 0);
		const hears = async () => {
			this.#own.tail.forget();
			const sound = new AudioBufferSourceNode(this.#audio, { buffer });
			sound.connect(out);
			sound.start();
			await new Promise((resolve) => setTimeout(resolve, 1000 * ECHO_LISTEN_S));
			return findEcho([this.#own.tail.samples], tone, RATE) !== null;
		};
		// What is said may be like the tone once.
		const heard = (await hears()) && (await hears());
		player.srcObject = null;
		return heard;
	}

	close(): void {
		for (const { source } of [this.#own, this.#played]) source?.disconnect();
		void this.#audio.close();
	}
}
