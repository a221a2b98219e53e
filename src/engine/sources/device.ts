/** Cameras and microphones of this machine, through getUserMedia. */
import type { OriginOf, SourceOf } from '../../core/show/sources/source.ts';
import { sourceFault, type SourceFault } from './fault.ts';
import { framesOf, type OpenSource, type SourceContext } from './open-source.ts';

/** A device that can be added, with the picture sizes it offers when they are known. */
export interface DeviceOffer {
	/** What a source of it has. */
	origin: OriginOf<'camera'> | OriginOf<'microphone'>;
	/** Empty where there is nothing to choose. */
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
 * @throws {SourceFault} when the person or the system does not allow it
 */
export async function listDevices(): Promise<DeviceOffer[]> {
	let devices = await navigator.mediaDevices.enumerateDevices();
	for (const kind of ['videoinput', 'audioinput'] as const) {
		const unnamed = devices.some((device) => device.kind === kind && device.label === '');
		if (!unnamed) continue;
		const constraints = kind === 'videoinput' ? { video: true } : { audio: true };
		const stream = await navigator.mediaDevices.getUserMedia(constraints).catch((error: unknown) => {
			throw deviceFault(error, kind === 'videoinput' ? 'camera' : 'microphone');
		});
		for (const track of stream.getTracks()) track.stop();
		devices = await navigator.mediaDevices.enumerateDevices();
	}
	return devices.flatMap((device): DeviceOffer[] => {
		// "default" and "communications" are second names for devices that are listed anyway.
		if (device.deviceId === '' || device.deviceId === 'default' || device.deviceId === 'communications') return [];
		const { deviceId, label } = device;
		if (device.kind === 'audioinput')
			return [{ origin: { kind: 'microphone', deviceId, label, cleaned: false }, sizes: [] }];
		if (device.kind !== 'videoinput') return [];
		const limits = (device as InputDeviceInfo).getCapabilities?.() ?? {};
		const within = ({ width, height }: { width: number; height: number }) =>
			width <= (limits.width?.max ?? 1920) && height <= (limits.height?.max ?? 1080);
		const origin = { kind: 'camera' as const, deviceId, label, withSound: false };
		return [{ origin, sizes: COMMON_SIZES.filter(within) }];
	});
}

/** A camera, in the size that was chosen for it or in the event's. @throws {SourceFault} */
export async function openCamera(source: SourceOf<'camera'>, context: SourceContext): Promise<OpenSource> {
	const { label, withSound } = source;
	const device = await findDevice('videoinput', source);
	const { width, height } =
		source.width && source.height ? { width: source.width, height: source.height } : context.picture;
	const own = withSound ? await microphoneOf(device) : null;
	if (withSound && !own) throw sourceFault('noOwnSound', { label });
	const video = {
		...exactly(device.deviceId),
		frameRate: { ideal: 30 },
		width: { ideal: width },
		height: { ideal: height },
	};
	const stream = await openStream({ video, ...(own && { audio: asItIs(own.deviceId) }) }, label);
	const [track] = stream.getVideoTracks();
	const sound = own ? context.audio.createMediaStreamSource(new MediaStream(stream.getAudioTracks())) : undefined;
	const frames = framesOf(track as MediaStreamVideoTrack);
	const limits = track?.getCapabilities?.() ?? {};
	const could = limits.width?.max && limits.height?.max ? { width: limits.width.max, height: limits.height.max } : null;
	return opened(stream, label, { picture: { frames }, could, ...(sound && { sound, inputs: inputsOf(stream) }) });
}

/** @throws {SourceFault} */
export async function openMicrophone(source: SourceOf<'microphone'>, { audio }: SourceContext): Promise<OpenSource> {
	const { label, cleaned } = source;
	const { deviceId } = await findDevice('audioinput', source);
	const cleaning = { echoCancellation: true, noiseSuppression: true, autoGainControl: true };
	const stream = await openStream({ audio: cleaned ? { ...exactly(deviceId), ...cleaning } : asItIs(deviceId) }, label);
	return opened(stream, label, { sound: audio.createMediaStreamSource(stream), inputs: inputsOf(stream) });
}

function exactly(deviceId: string): MediaTrackConstraints {
	return { deviceId: { exact: deviceId } };
}

/** A console's sound must arrive as it is, with all its inputs, and not as a telephone would have it. */
function asItIs(deviceId: string): MediaTrackConstraints {
	const plain = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
	return { ...exactly(deviceId), ...plain, channelCount: { ideal: 32 } };
}

function inputsOf(stream: MediaStream): number {
	return stream.getAudioTracks()[0]?.getSettings().channelCount ?? 2;
}

function openStream(constraints: MediaStreamConstraints, label: string): Promise<MediaStream> {
	return navigator.mediaDevices.getUserMedia(constraints).catch((error: unknown) => {
		throw deviceFault(error, label);
	});
}

function opened(
	stream: MediaStream,
	label: string,
	parts: Pick<OpenSource, 'picture' | 'sound' | 'inputs' | 'could'>,
): OpenSource {
	const open: OpenSource = {
		...parts,
		onLost: null,
		close() {
			parts.sound?.disconnect();
			for (const track of stream.getTracks()) track.stop();
		},
	};
	for (const track of stream.getTracks())
		track.addEventListener('ended', () => open.onLost?.({ code: 'unplugged', about: { label } }));
	return open;
}

type Identity = Pick<SourceOf<'camera'>, 'deviceId' | 'label'>;

/**
 * The device by its id, or by its name when the browser has given it another id since.
 * @throws {SourceFault} when it is not connected
 */
async function findDevice(
	wanted: MediaDeviceKind,
	{ deviceId, label }: Identity,
): Promise<Pick<MediaDeviceInfo, 'deviceId' | 'groupId'>> {
	const devices = (await navigator.mediaDevices.enumerateDevices()).filter(({ kind }) => kind === wanted);
	const found =
		devices.find((device) => device.deviceId === deviceId) ??
		devices.find((device) => device.label !== '' && device.label === label);
	// Without permission the browser hides ids and names; asking for the stored id then asks the person.
	if (!found && devices.every((device) => device.label === '') && devices.length > 0) return { deviceId, groupId: '' };
	if (!found) throw sourceFault('notConnected', { label });
	return found;
}

/** The microphone that is built into the same device as a camera, or null. */
async function microphoneOf({ groupId }: Pick<MediaDeviceInfo, 'groupId'>): Promise<MediaDeviceInfo | null> {
	const devices = await navigator.mediaDevices.enumerateDevices();
	return devices.find((device) => device.kind === 'audioinput' && device.groupId === groupId && groupId !== '') ?? null;
}

function deviceFault(error: unknown, label: string): SourceFault {
	switch ((error as DOMException).name) {
		case 'NotAllowedError':
			return sourceFault('notAllowed', { label });
		case 'NotFoundError':
			return sourceFault('absent', { label });
		case 'NotReadableError':
			return sourceFault('inUse', { label });
		case 'OverconstrainedError':
			return sourceFault('notOffered', { label });
		default:
			return sourceFault('cannotOpen', { label, problem: (error as Error).message });
	}
}
