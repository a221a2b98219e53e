/** What calls a person back to the desk: the page's title, and two short tones on this machine, never on the stream. */
const AGAIN_MS = 30_000;
/** Wrong for less than this is no alarm: going on air takes a second. */
const SETTLED_MS = 2000;
const TONES_HZ = [880, 660];
const TONE_S = 0.18;
const LEVEL = 0.12;
const QUIET_KEY = 'bivvo-quiet-alarms';

export function isQuiet(): boolean {
	return localStorage.getItem(QUIET_KEY) === 'yes';
}

export function setQuiet(quiet: boolean): void {
	localStorage.setItem(QUIET_KEY, quiet ? 'yes' : 'no');
}

export class Alarm {
	/** The page's own title, while an alarm stands in its place. */
	#title: string | null = null;
	#key = '';
	#text = '';
	#context: AudioContext | null = null;
	#timer: ReturnType<typeof setTimeout> | null = null;

	/**
	 * What stays wrong for a moment calls, and calls again until it is mended.
	 * @param key tells what is wrong, empty when nothing is; its words may change meanwhile
	 */
	raise(key: string, text: string): void {
		this.#text = text;
		if (key === this.#key) return;
		this.#key = key;
		if (this.#timer) clearTimeout(this.#timer);
		if (this.#title !== null) document.title = this.#title;
		this.#title = null;
		this.#timer = key === '' ? null : setTimeout(() => this.#call(), SETTLED_MS);
	}

	#call(): void {
		this.#title ??= document.title;
		document.title = `▲ ${this.#text}`;
		if (!isQuiet()) this.#sound();
		this.#timer = setTimeout(() => this.#call(), AGAIN_MS);
	}

	#sound(): void {
		const context = (this.#context ??= new AudioContext());
		TONES_HZ.forEach((frequency, i) => {
			const from = context.currentTime + i * TONE_S;
			const tone = new OscillatorNode(context, { frequency });
			const gain = new GainNode(context, { gain: 0 });
			gain.gain.setValueAtTime(0, from);
			gain.gain.linearRampToValueAtTime(LEVEL, from + 0.01);
			gain.gain.setTargetAtTime(0, from + TONE_S - 0.05, 0.012);
			tone.connect(gain).connect(context.destination);
			tone.start(from);
			tone.stop(from + TONE_S);
		});
	}

	close(): void {
		this.raise('', '');
		void this.#context?.close();
	}
}
