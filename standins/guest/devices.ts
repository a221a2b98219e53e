/** The devices of a guest who is drawn and speaks by synthesis: they stand in for a browser's own. */
import type { CameraOrder } from '../venue/camera.worker.ts';
import { playLoop } from '../venue/loop.ts';
import coldTarnVoiceUrl from './media/cold-tarn.flac?url';
import coldTarnLargeUrl from './media/cold-tarn-720.mp4?url';
import coldTarnUrl from './media/cold-tarn.mp4?url';
import threeLarchesVoiceUrl from './media/three-larches.flac?url';
import threeLarchesLargeUrl from './media/three-larches-720.mp4?url';
import threeLarchesUrl from './media/three-larches.mp4?url';
import type { GuestFault, StandInGuest } from './guests.ts';
import { WeakLine } from './weak-line.ts';

const FILES: Record<StandInGuest, { picture: string; large: string; voice: string }> = {
	'cold-tarn': { picture: coldTarnUrl, large: coldTarnLargeUrl, voice: coldTarnVoiceUrl },
	'three-larches': { picture: threeLarchesUrl, large: threeLarchesLargeUrl, voice: threeLarchesVoiceUrl },
};
const SIZE = { width: 640, height: 360 };
const LARGE = { width: 1280, height: 720 };
const SOFT = 10 ** (-40 / 20);
const HISS = 0.05;
/** How much of what is played comes back, and after what time: a laptop on a table. */
const ECHO = { gain: 0.5, delayS: 0.12 };

/** As much of `MediaDevices` as a guest's page uses. */
export class StandInDevices {
	readonly #guest: StandInGuest;
	readonly #isLarge: boolean;
	readonly #audio = new AudioContext({ sampleRate: 48_000, latencyHint: 'playback', sinkId: { type: 'none' } });
	readonly #voice = new GainNode(this.#audio);
	readonly #hiss = new GainNode(this.#audio, { gain: 0 });
	readonly #heard = new GainNode(this.#audio, { gain: 0 });
	readonly #out = this.#audio.createMediaStreamDestination();
	readonly #line = new WeakLine(this.#audio);
	#heardFrom: MediaStreamAudioSourceNode | null = null;
	#isFrozen = false;
	#begun: Promise<void> | null = null;

	/** @param isLarge true for a camera of 720 lines instead of 360 */
	constructor(guest: StandInGuest, isLarge = false) {
		this.#guest = guest;
		this.#isLarge = isLarge;
		this.#voice.connect(this.#line.voice).connect(this.#out);
		this.#hiss.connect(this.#out);
		this.#heard.connect(new DelayNode(this.#audio, { delayTime: ECHO.delayS })).connect(this.#out);
	}

	/** What the guest's loudspeaker plays: it comes back when that fault is on. */
	play(stream: MediaStream | null): void {
		this.#heardFrom?.disconnect();
		this.#heardFrom = stream && this.#audio.createMediaStreamSource(stream);
		this.#heardFrom?.connect(this.#heard);
	}

	break(fault: GuestFault): void {
		this.#line.isWeak = fault === 'weak';
		this.#isFrozen = fault === 'frozen';
		this.#voice.gain.value = fault === 'soft' ? SOFT : 1;
		this.#hiss.gain.value = fault === 'hiss' ? HISS : 0;
		this.#heard.gain.value = fault === 'echo' ? ECHO.gain : 0;
	}

	async getUserMedia({ video, audio }: MediaStreamConstraints): Promise<MediaStream> {
		await this.#audio.resume();
		await (this.#begun ??= this.#begin());
		const tracks: MediaStreamTrack[] = [];
		if (video) tracks.push(this.#camera());
		if (audio) tracks.push(this.#named(this.#out.stream.getAudioTracks()[0]!.clone()));
		return new MediaStream(tracks);
	}

	async #begin(): Promise<void> {
		const noise = new AudioBuffer({ length: 96_000, sampleRate: 48_000 });
		noise.getChannelData(0).forEach((_, i, samples) => (samples[i] = 2 * Math.random() - 1));
		const player = new AudioBufferSourceNode(this.#audio, { buffer: noise, loop: true });
		player.connect(this.#hiss);
		player.start();
		(await playLoop(this.#audio, FILES[this.#guest].voice)).connect(this.#voice);
	}

	#camera(): MediaStreamTrack {
		const worker = new Worker(new URL('../venue/camera.worker.ts', import.meta.url), { type: 'module', name: 'guest' });
		const { port1, port2 } = new MessageChannel();
		const { picture, large } = FILES[this.#guest];
		const order: CameraOrder = { type: 'camera', url: this.#isLarge ? large : picture };
		worker.postMessage({ order, port: port1 }, [port1]);
		const track = new MediaStreamTrackGenerator({ kind: 'video' });
		const writer = track.writable.getWriter();
		port2.onmessage = ({ data: frame }: MessageEvent<VideoFrame>) => {
			if (track.readyState === 'ended') {
				worker.terminate();
				return frame.close();
			}
			if (this.#line.losesPicture() || this.#isFrozen || (writer.desiredSize ?? 1) <= 0) return frame.close();
			writer.write(frame).catch(() => frame.close());
		};
		return this.#named(track, this.#isLarge ? LARGE : SIZE);
	}

	/** What is made has no device of its own to tell. */
	#named<T extends MediaStreamTrack>(track: T, size: MediaTrackSettings = {}): T {
		track.getSettings = () => ({ ...size, deviceId: this.#guest });
		return track;
	}

	enumerateDevices(): Promise<MediaDeviceInfo[]> {
		const device = (kind: MediaDeviceKind, label: string) => {
			const told = { kind, label, deviceId: this.#guest, groupId: this.#guest };
			return { ...told, toJSON: () => told };
		};
		return Promise.resolve([device('videoinput', 'Camera in the hut'), device('audioinput', 'Microphone in the hut')]);
	}

	/** A sheet of bookings on their screen. */
	getDisplayMedia(): Promise<MediaStream> {
		const canvas = document.createElement('canvas');
		[canvas.width, canvas.height] = [1280, 720];
		const context = canvas.getContext('2d')!;
		const draw = () => {
			context.fillStyle = '#f7f4ec';
			context.fillRect(0, 0, canvas.width, canvas.height);
			context.fillStyle = '#12161c';
			context.font = '32px sans-serif';
			['Bookings, Cold Tarn', 'Friday: 6 beds', 'Saturday: full', 'Sunday: 3 beds'].forEach((line, i) =>
				context.fillText(line, 80, 120 + 80 * i),
			);
			context.fillText(new Date().toLocaleTimeString('en-GB'), 1000, 120);
		};
		draw();
		const stream = canvas.captureStream(5);
		const timer = setInterval(draw, 500);
		stream.getVideoTracks()[0]!.addEventListener('ended', () => clearInterval(timer));
		return Promise.resolve(stream);
	}

	addEventListener(): void {}
	removeEventListener(): void {}

	close(): void {
		this.#line.isWeak = false;
		void this.#audio.close();
	}
}
