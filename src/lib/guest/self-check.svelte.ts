/** What a guest's page finds out about their own picture, voice and line, and says to them. */
import type { LineMeasured } from '../../core/guests/line-check.ts';
import { judgePicture, lumaOf, type PictureAdvice } from '../../core/guests/picture-check.ts';
import type { VoiceAdvice } from '../../core/guests/voice-check.ts';
import { HeardBack } from '../../core/sound/heard-back.ts';
import { measureLine } from '../../engine/guests/measure-line.ts';
import { MicrophoneEar } from '../../engine/guests/microphone-ear.ts';

const LEVEL_MS = 100;
/** So often picture and voice are judged. */
const JUDGE_MS = 1000;
/** So often the microphone is compared with what is played. */
const COMPARE_MS = 4000;
/** Something is said of the picture when it was so for this many looks. */
const SURE_LOOKS = 2;
/** Width and height of the picture that is judged. */
const LOOKED_AT = { width: 64, height: 36 };

export class SelfCheck {
	readonly #gone = new AbortController();
	readonly #ear = new MicrophoneEar();
	readonly #heardBack = new HeardBack();
	readonly #lineUrl: string;
	readonly #isMuted: () => boolean;
	readonly #video = document.createElement('video');
	readonly #canvas = new OffscreenCanvas(LOOKED_AT.width, LOOKED_AT.height).getContext('2d', {
		willReadFrequently: true,
	})!;
	readonly #timers: ReturnType<typeof setInterval>[];
	#looks: { advice: PictureAdvice | null; times: number } = { advice: null, times: 0 };
	#hasCamera = false;
	#hears = false;

	/** Of the microphone, dB below full scale. */
	levelDb = $state(-100);
	pictureAdvice = $state.raw<PictureAdvice | null>(null);
	/** Null for a good voice; undefined while it is not known. */
	voiceAdvice = $state.raw<VoiceAdvice | null | undefined>(undefined);
	/** What the line carries, as far as that is known. */
	line = $state.raw<{ is: 'measuring'; line: LineMeasured | null } | { is: 'measured'; line: LineMeasured } | null>(
		null,
	);
	/** Whether the microphone hears what is played; null before that was measured. */
	echo = $state<'measuring' | 'heard' | 'quiet' | null>(null);
	/** True when what the guest hears comes back by their microphone. */
	comesBack = $state(false);

	/**
	 * @param lineUrl what the line is measured with
	 * @param isMuted true while the microphone sends nothing
	 */
	constructor(lineUrl: string, isMuted: () => boolean) {
		this.#lineUrl = lineUrl;
		this.#isMuted = isMuted;
		this.#video.muted = true;
		this.#video.playsInline = true;
		this.#timers = [
			setInterval(() => (this.levelDb = this.#ear.levelDb), LEVEL_MS),
			setInterval(() => this.#judge(), JUDGE_MS),
			setInterval(() => void this.#compare(), COMPARE_MS),
		];
	}

	lookAt(camera: MediaStreamTrack | null): void {
		this.#hasCamera = camera !== null;
		this.#video.srcObject = camera && new MediaStream([camera]);
		if (camera) void this.#video.play().catch(() => {});
	}

	listenTo(microphone: MediaStreamTrack | null): void {
		this.echo = null;
		void this.#ear.listen(microphone);
	}

	/** What is played to the guest, which is not to come back. */
	listenToPlayed(sound: MediaStreamTrack | null): void {
		this.#hears = sound !== null;
		void this.#ear.listenToPlayed(sound);
	}

	/** Called from a press: a browser lets nobody listen before. */
	wake(): void {
		void this.#ear.wake();
	}

	/** Another loudspeaker is to be checked anew. */
	forgetEcho(): void {
		this.echo = null;
	}

	/** Plays a tone on an output, and finds out whether the microphone hears it. */
	async checkEcho(outputId: string): Promise<void> {
		this.echo = 'measuring';
		const heard = await this.#ear.hearsLoudspeaker(outputId).catch(() => null);
		this.echo = heard === null ? null : heard ? 'heard' : 'quiet';
	}

	/** Finds out what the line carries, once. */
	async checkLine(): Promise<void> {
		if (this.line !== null) return;
		this.line = { is: 'measuring', line: null };
		const tell = (line: LineMeasured) => (this.line = { is: 'measuring', line });
		this.line = await measureLine(this.#lineUrl, tell, this.#gone.signal).then(
			(line) => ({ is: 'measured', line }),
			// Who falls out meanwhile is told so elsewhere.
			() => null,
		);
	}

	#judge(): void {
		this.#look();
		this.voiceAdvice = this.#isMuted() ? undefined : this.#ear.advice;
	}

	/** Finds out whether what is heard here comes back. */
	async #compare(): Promise<void> {
		if (!this.#hears || this.#isMuted()) return;
		const estimate = await this.#ear.heardBack().catch(() => null);
		if (estimate) this.#heardBack.observe(estimate);
		this.comesBack = this.#heardBack.isThere;
	}

	#look(): void {
		if (!this.#hasCamera || this.#video.readyState < this.#video.HAVE_CURRENT_DATA) {
			this.pictureAdvice = null;
			return;
		}
		const { width, height } = LOOKED_AT;
		this.#canvas.drawImage(this.#video, 0, 0, width, height);
		const advice = judgePicture(lumaOf(this.#canvas.getImageData(0, 0, width, height).data, width, height));
		this.#looks = { advice, times: advice === this.#looks.advice ? this.#looks.times + 1 : 1 };
		if (this.#looks.times >= SURE_LOOKS) this.pictureAdvice = advice;
	}

	close(): void {
		for (const timer of this.#timers) clearInterval(timer);
		this.#gone.abort();
		this.#ear.close();
	}
}
