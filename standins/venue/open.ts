/** Stand-in cameras and console: made-up pictures and sound, behaving as devices do. */
import { sourceFault } from '../../src/engine/sources/fault.ts';
import type { OpenSource, OpenStandIn, SourceContext } from '../../src/engine/sources/open-source.ts';
import chapelWideUrl from './media/chapel-wide.mp4?url';
import choirLeftUrl from './media/choir-left.mp4?url';
import lecternMicUrl from './media/lectern-mic.flac?url';
import lecternUrl from './media/lectern.mp4?url';
import { openConsole } from './console.ts';
import { playLoop } from './loop.ts';
import type { CameraOrder, FlashOrder } from './camera.worker.ts';

const CAMERAS: Record<string, string> = {
	lectern: lecternUrl,
	'chapel-wide': chapelWideUrl,
	'choir-left': choirLeftUrl,
};

/** Flash and click come together this often. */
const FLASH_EVERY_S = 2;

export const openStandIn: OpenStandIn = async (name, context) => {
	if (name === 'console') return openConsole(context);
	if (name === 'flash-and-click') return openFlashAndClick(context);
	if (name === 'frozen-camera') return openWorker({ type: 'camera', url: lecternUrl, fault: 'frozen' });
	if (name === 'black-camera') return openWorker({ type: 'camera', url: lecternUrl, fault: 'black' });
	const url = CAMERAS[name];
	if (!url) throw sourceFault('noStandIn', { name });
	const camera = openWorker({ type: 'camera', url });
	return name === 'lectern' ? withMicrophone(camera, context) : camera;
};

/** How far the camera at the lectern is from the speaker, in seconds of sound. */
const TO_CAMERA_S = 0.008;

/** The camera's own microphone hears who speaks there; its picture does not wait for that. */
function withMicrophone(camera: OpenSource, { audio }: SourceContext): OpenSource {
	const sound = new GainNode(audio, { gain: 0.25 });
	const player = playLoop(audio, lecternMicUrl);
	const opened: OpenSource = {
		...camera,
		sound,
		inputs: 1,
		close() {
			void player.then((started) => started.stop()).catch(() => {});
			camera.close();
		},
	};
	player
		.then((started) => started.connect(new DelayNode(audio, { delayTime: TO_CAMERA_S })).connect(sound))
		.catch((error: unknown) =>
			opened.onLost?.({ code: 'standInBroken', about: { problem: (error as Error).message } }),
		);
	return opened;
}

function openWorker(order: CameraOrder | FlashOrder): OpenSource & { picture: { port: MessagePort } } {
	const worker = new Worker(new URL('./camera.worker.ts', import.meta.url), { type: 'module', name: 'stand-in' });
	const { port1, port2 } = new MessageChannel();
	worker.postMessage({ order, port: port1 }, [port1]);
	return { picture: { port: port2 }, onLost: null, close: () => worker.terminate() };
}

/** A picture that flashes and a sound that clicks at the same instants of the engine's clock. */
async function openFlashAndClick({ audio, clock }: SourceContext): Promise<OpenSource> {
	const buffer = new AudioBuffer({ length: FLASH_EVERY_S * audio.sampleRate, sampleRate: audio.sampleRate });
	const samples = buffer.getChannelData(0);
	for (let i = 0; i < 240; i++) samples[i] = 0.7 * Math.sin((2 * Math.PI * 1000 * i) / audio.sampleRate);
	const node = new AudioBufferSourceNode(audio, { buffer, loop: true });
	const startS = (await clock.startFrame) / audio.sampleRate;
	const beats = Math.ceil((audio.currentTime + 0.2 - startS) / FLASH_EVERY_S);
	node.start(startS + beats * FLASH_EVERY_S);
	const order: FlashOrder = { type: 'flash', control: clock.control, fps: clock.fps, everyS: FLASH_EVERY_S };
	const camera = openWorker(order);
	return {
		...camera,
		sound: node,
		close() {
			node.stop();
			camera.close();
		},
	};
}

/** Stand-ins that can be added as sources, by the kind that they are. */
export const STAND_INS = [
	{ kind: 'standInCamera', standIn: 'lectern', name: 'Lectern' },
	{ kind: 'standInCamera', standIn: 'chapel-wide', name: 'Chapel wide' },
	{ kind: 'standInCamera', standIn: 'choir-left', name: 'Choir left' },
	{ kind: 'standInCamera', standIn: 'frozen-camera', name: 'Frozen camera' },
	{ kind: 'standInCamera', standIn: 'black-camera', name: 'Black camera' },
	{ kind: 'standInConsole', standIn: 'console', name: 'Console' },
] as const;
