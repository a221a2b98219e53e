/** Cameras and microphones of this machine, through getUserMedia. */
import type { Origin, Source } from '../core/show/sources/source.ts';
import type { OpenSource } from './source.ts';

export type DeviceOrigin = Extract<Origin, { from: 'device' }>;

/** A device that can be added, with the picture sizes it offers when they are known. */
export interface DeviceOffer {
	kind: Source['kind'];
	deviceId: string;
	label: string;
	sizes: { width: number; height: number }[];
}

/** Sizes that cameras are commonly asked for; a device offers those within its own limits. */
const COMMON_SIZES = [
	{ width: 3840, height: 2160 },
	{ width: 1920, height: 1080 },
	{ width: 1280, height: 720 },
	{ width: 960, height: 540 },
	{ width: 640, height: 480 },
	{ width: 640, height: 360 },
	{ width: 320, height: 240 },
];

/**
 * The cameras and sound inputs of this machine. Browsers tell their names only after the person has agreed once,
 * so this may ask.
 * @throws with a sentence when the person or the system does not allow it
 */
export async function listDevices(): Promise<DeviceOffer[]> {
	let devices = await navigator.mediaDevices.enumerateDevices();
	for (const kind of ['videoinput', 'audioinput'] as const) {
		const unnamed = devices.some((device) => device.kind === kind && device.label === '');
		if (!unnamed) continue;
		const constraints = kind === 'videoinput' ? { video: true } : { audio: true };
		const stream = await navigator.mediaDevices.getUserMedia(constraints).catch((error: unknown) => {
			throw new Error(deviceProblem(error, kind === 'videoinput' ? 'camera' : 'microphone'));
		});
		for (const track of stream.getTracks()) track.stop();
		devices = await navigator.mediaDevices.enumerateDevices();
	}
	return devices.flatMap((device): DeviceOffer[] => {
		// "default" and "communications" are second names for devices that are listed anyway.
		if (device.deviceId === '' || device.deviceId === 'default' || device.deviceId === 'communications') return [];
		const { deviceId, label } = device;
		if (device.kind === 'audioinput') return [{ kind: 'sound', deviceId, label, sizes: [] }];
		if (device.kind !== 'videoinput') return [];
		const limits = (device as InputDeviceInfo).getCapabilities?.() ?? {};
		const within = ({ width, height }: { width: number; height: number }) =>
			width <= (limits.width?.max ?? 1920) && height <= (limits.height?.max ?? 1080);
		return [{ kind: 'camera', deviceId, label, sizes: COMMON_SIZES.filter(within) }];
	});
}

/** @throws with a sentence when the device is not there, not allowed or in use. */
export async function openDevice(kind: Source['kind'], origin: DeviceOrigin, audio: AudioContext): Promise<OpenSource> {
	const deviceId = await findDevice(kind, origin);
	if (deviceId === null) throw new Error(`${origin.label} is not connected. Plug it in; it comes back by itself.`);
	const constraints: MediaStreamConstraints =
		kind === 'camera'
			? { video: { deviceId: { exact: deviceId }, frameRate: { ideal: 30 }, ...sizeOf(origin) } }
			: {
					audio: {
						deviceId: { exact: deviceId },
						// A console's sound must arrive as it is, not as a telephone would have it.
						echoCancellation: origin.cleaned,
						noiseSuppression: origin.cleaned,
						autoGainControl: origin.cleaned,
						// All that a console hands over.
						...(!origin.cleaned && { channelCount: { ideal: 32 } }),
					},
				};
	const stream = await navigator.mediaDevices.getUserMedia(constraints).catch((error: unknown) => {
		throw new Error(deviceProblem(error, origin.label));
	});
	const [track] = stream.getTracks();
	const node = kind === 'sound' ? audio.createMediaStreamSource(stream) : null;
	const open: OpenSource = {
		onLost: null,
		close() {
			node?.disconnect();
			track!.stop();
		},
	};
	if (node) Object.assign(open, { sound: node, inputs: track!.getSettings().channelCount ?? 2 });
	else open.picture = { frames: new MediaStreamTrackProcessor({ track: track as MediaStreamVideoTrack }).readable };
	track!.addEventListener('ended', () =>
		open.onLost?.(`${origin.label} was unplugged. Plug it in; it comes back by itself.`),
	);
	return open;
}

function sizeOf({ width, height }: DeviceOrigin): MediaTrackConstraints {
	return width && height ? { width: { ideal: width }, height: { ideal: height } } : {};
}

/** The device by its id, or by its name when the browser has given it another id since. */
async function findDevice(kind: Source['kind'], origin: DeviceOrigin): Promise<string | null> {
	const wanted = kind === 'camera' ? 'videoinput' : 'audioinput';
	const devices = (await navigator.mediaDevices.enumerateDevices()).filter((device) => device.kind === wanted);
	const found =
		devices.find(({ deviceId }) => deviceId === origin.deviceId) ??
		devices.find(({ label }) => label !== '' && label === origin.label);
	// Without permission the browser hides ids and names; asking for the stored id then asks the person.
	if (!found && devices.every(({ label }) => label === '') && devices.length > 0) return origin.deviceId;
	return found?.deviceId ?? null;
}

function deviceProblem(error: unknown, name: string): string {
	switch ((error as DOMException).name) {
		case 'NotAllowedError':
			return `The browser may not use the ${name}. Allow it beside the address of this page, then try again.`;
		case 'NotFoundError':
			return `There is no ${name} on this machine.`;
		case 'NotReadableError':
			return `${name} is in use by another program. Close that program; it comes back by itself.`;
		case 'OverconstrainedError':
			return `${name} is not connected, or does not offer the size that was asked for.`;
		default:
			return `${name} cannot be opened (${(error as Error).message}).`;
	}
}
