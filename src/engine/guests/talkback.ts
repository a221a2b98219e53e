/** The microphone by which the crew speaks to guests, off air. It is opened when it is first needed. */
import { sourceFault } from '../sources/fault.ts';

export class Talkback {
	readonly #audio: AudioContext;
	readonly #to: AudioNode;
	#stream: Promise<MediaStream> | null = null;

	/** @param to what carries it to guests */
	constructor(audio: AudioContext, to: AudioNode) {
		this.#audio = audio;
		this.#to = to;
	}

	/** Opens it, if it is not open. @throws {SourceFault} when it cannot be */
	async open(): Promise<void> {
		this.#stream ??= this.#begin();
		await this.#stream;
	}

	async #begin(): Promise<MediaStream> {
		try {
			const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
			this.#audio.createMediaStreamSource(stream).connect(this.#to);
			stream.getAudioTracks()[0]!.addEventListener('ended', () => (this.#stream = null));
			return stream;
		} catch (error) {
			this.#stream = null;
			const { name, message } = error as DOMException;
			const label = 'microphone';
			if (name === 'NotAllowedError') throw sourceFault('notAllowed', { label });
			if (name === 'NotFoundError') throw sourceFault('absent', { label });
			throw sourceFault('cannotOpen', { label: 'The microphone', problem: message });
		}
	}

	close(): void {
		void this.#stream?.then((stream) => stream.getTracks().forEach((track) => track.stop()));
		this.#stream = null;
	}
}
