/** Headphones of the person at the desk: a second output with a device and a level of its own, never in the stream. */
import { engineFailure } from './trouble.ts';

export interface HeadphoneDevice {
	deviceId: string;
	label: string;
}

/** Outputs of this machine that have a name; empty where the browser does not tell. */
export async function listHeadphones(): Promise<HeadphoneDevice[]> {
	const devices = await navigator.mediaDevices.enumerateDevices();
	return devices
		.filter(({ kind, deviceId, label }) => kind === 'audiooutput' && deviceId !== 'default' && label !== '')
		.map(({ deviceId, label }) => ({ deviceId, label }));
}

export class Headphones {
	#audio: AudioContext;
	/** All that is played, at its level. */
	readonly played: GainNode;
	#out: MediaStreamAudioDestinationNode;
	#element = new Audio();

	/** @param node whose output number `output` is heard */
	constructor(audio: AudioContext, node: AudioNode, output: number) {
		this.#audio = audio;
		this.#out = audio.createMediaStreamDestination();
		this.played = new GainNode(audio);
		node.connect(this.played, output);
		this.played.connect(this.#out);
		this.#element.srcObject = this.#out.stream;
	}

	/**
	 * @param deviceId an output of this machine; empty for the one that the system uses
	 * @throws {EngineFailure} when it cannot be used
	 */
	async playOn(deviceId: string): Promise<void> {
		try {
			await this.#element.setSinkId(deviceId);
			await this.#element.play();
		} catch (error) {
			const gone = (error as DOMException).name === 'NotFoundError';
			throw gone
				? engineFailure('headphonesGone', {})
				: engineFailure('headphones', { problem: (error as Error).message });
		}
	}

	/** @param volume 0 to 1 */
	setVolume(volume: number): void {
		this.played.gain.value = volume;
	}

	/** Plays a sound once, as loud as the rest. @param samples one side, at the context's rate */
	playOnce(samples: Float32Array<ArrayBuffer>): void {
		const buffer = new AudioBuffer({ length: samples.length, sampleRate: this.#audio.sampleRate });
		buffer.copyToChannel(samples, 0);
		const player = new AudioBufferSourceNode(this.#audio, { buffer });
		player.connect(this.played);
		player.start();
	}

	close(): void {
		this.#element.pause();
		this.#element.srcObject = null;
		this.played.disconnect();
	}
}
