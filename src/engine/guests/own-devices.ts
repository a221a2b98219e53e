/** A guest's own camera, microphone and screen, as their browser gives them. */
import { bestDevice, type NamedDevice } from '../../core/guests/devices.ts';
import { FOR_SPEECH, type Treatment } from '../../core/show/guests/guest.ts';

/** Why a camera or microphone cannot be had. */
export type DeviceProblem = 'refused' | 'absent' | 'inUse' | 'broken';

export type DeviceKind = 'camera' | 'microphone';

const INPUT = { camera: 'videoinput', microphone: 'audioinput' } as const;
/** The system's own choice stands first under a name of its own; this one is a second name of it, for calls. */
const FOR_CALLS = 'communications';

export interface OwnDevicesEvents {
	/** A track has come or gone, or what can be chosen has changed. */
	changed(): void;
}

/** The browser's own devices, or what stands in for them. */
export type DeviceAccess = Pick<MediaDevices, 'enumerateDevices'> & {
	getUserMedia(constraints: MediaStreamConstraints): Promise<MediaStream>;
	/** Absent where screens cannot be shared. */
	getDisplayMedia?(options: DisplayMediaStreamOptions): Promise<MediaStream>;
	addEventListener(type: 'devicechange', listener: () => void): void;
	removeEventListener(type: 'devicechange', listener: () => void): void;
};

export class OwnDevices {
	readonly #events: OwnDevicesEvents;
	readonly #access: DeviceAccess | null;
	readonly tracks: Record<DeviceKind, MediaStreamTrack | null> = { camera: null, microphone: null };
	readonly problems: Record<DeviceKind, DeviceProblem | null> = { camera: null, microphone: null };
	readonly offered: Record<DeviceKind, NamedDevice[]> = { camera: [], microphone: [] };
	/** Loudspeakers and headphones; empty where the browser does not tell. */
	outputs: NamedDevice[] = [];
	screen: MediaStreamTrack | null = null;
	#treatment: Treatment = FOR_SPEECH;
	/** Of a phone: the camera at its front or at its back, whatever was chosen. */
	facing: 'front' | 'back' | null = null;
	/** What was chosen last, on another day. */
	readonly chosen: Record<DeviceKind, NamedDevice | null>;
	#closed = false;

	/** @param access null where a page has none: in apps, and on pages that are not secure */
	constructor(
		chosen: Record<DeviceKind, NamedDevice | null>,
		events: OwnDevicesEvents,
		access: DeviceAccess | null = ownAccess(),
	) {
		this.chosen = chosen;
		this.#events = events;
		this.#access = access;
		access?.addEventListener('devicechange', this.#changed);
	}

	/** Opens both with one question to the person, or the one that can be had. */
	async open(): Promise<void> {
		if (!this.#access) {
			this.problems.camera = this.problems.microphone = 'broken';
			return this.#events.changed();
		}
		try {
			const stream = await this.#access.getUserMedia({
				video: this.#wanted('camera'),
				audio: this.#wanted('microphone'),
			});
			this.#take('camera', stream.getVideoTracks()[0] ?? null);
			this.#take('microphone', stream.getAudioTracks()[0] ?? null);
			await this.#list();
			// Names are told only now, and so is which one is the better.
			for (const kind of ['camera', 'microphone'] as const)
				if (kind === 'microphone' || this.facing === null) await this.#preferBest(kind);
		} catch {
			await Promise.all([this.#openOne('camera'), this.#openOne('microphone')]);
			await this.#list();
		}
		this.#events.changed();
	}

	async #preferBest(kind: DeviceKind): Promise<void> {
		const best = bestDevice(this.offered[kind], this.chosen[kind], kind === 'microphone');
		const has = this.tracks[kind]?.getSettings().deviceId;
		if (best && has !== undefined && best.deviceId !== has) await this.choose(kind, best.deviceId, false);
	}

	#wanted(kind: DeviceKind): MediaTrackConstraints {
		const deviceId = this.chosen[kind]?.deviceId;
		const from = deviceId ? { deviceId: { ideal: deviceId } } : {};
		const side = this.facing && { facingMode: { ideal: this.facing === 'front' ? 'user' : 'environment' } };
		if (kind === 'camera')
			return { ...(side ?? from), width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 30 } };
		const { echo, noise, level } = this.#treatment;
		return { ...from, echoCancellation: echo, noiseSuppression: noise, autoGainControl: level };
	}

	async #openOne(kind: DeviceKind): Promise<void> {
		try {
			const wanted = this.#wanted(kind);
			const stream = await this.#access!.getUserMedia(kind === 'camera' ? { video: wanted } : { audio: wanted });
			if (this.#closed) return stream.getTracks().forEach((track) => track.stop());
			this.#take(kind, stream.getTracks()[0] ?? null);
		} catch (error) {
			this.#take(kind, null);
			this.problems[kind] = problemOf(error);
		}
	}

	#take(kind: DeviceKind, track: MediaStreamTrack | null): void {
		const before = this.tracks[kind];
		this.tracks[kind] = track;
		this.problems[kind] = null;
		before?.stop();
		// A call, a lock screen, a cable: it may be had again.
		track?.addEventListener('ended', () => {
			if (this.tracks[kind] !== track) return;
			this.tracks[kind] = null;
			this.problems[kind] = 'broken';
			this.#events.changed();
			void this.reopen();
		});
	}

	/** Opens again what was lost while the page was not looked at. */
	async reopen(): Promise<void> {
		if (this.#closed || document.visibilityState === 'hidden') return;
		for (const kind of ['camera', 'microphone'] as const)
			if (!this.tracks[kind] && this.problems[kind] === 'broken') await this.#openOne(kind);
		this.#events.changed();
	}

	/** @param remember false for what the browser should have given in the first place */
	async choose(kind: DeviceKind, deviceId: string, remember = true): Promise<void> {
		const device = this.offered[kind].find((each) => each.deviceId === deviceId);
		if (!device) return;
		const before = this.chosen[kind];
		this.chosen[kind] = device;
		await this.#openOne(kind);
		if (!remember) this.chosen[kind] = before;
		this.#events.changed();
	}

	/** The camera at the other side. */
	async turn(): Promise<void> {
		this.facing = this.facing === 'front' ? 'back' : 'front';
		// Most phones give one at a time.
		this.#take('camera', null);
		await this.#openOne('camera');
		this.#events.changed();
	}

	/** Lets a camera go, so that its light is off, or has it again. */
	async setCamera(on: boolean): Promise<void> {
		if (on) await this.#openOne('camera');
		else this.#take('camera', null);
		this.#events.changed();
	}

	/** What the browser does to the voice. */
	async treat(treatment: Treatment): Promise<void> {
		const { echo, noise, level } = this.#treatment;
		if (echo === treatment.echo && noise === treatment.noise && level === treatment.level) return;
		this.#treatment = treatment;
		if (this.tracks.microphone) await this.#openOne('microphone');
		this.#events.changed();
	}

	get canShare(): boolean {
		return typeof this.#access?.getDisplayMedia === 'function';
	}

	/** @returns false when the person has declined */
	async share(): Promise<boolean> {
		const stream = await this.#access?.getDisplayMedia?.({ video: { frameRate: { ideal: 15 } } }).catch(() => null);
		const track = stream?.getVideoTracks()[0];
		if (!track) return false;
		this.endShare();
		track.contentHint = 'detail';
		track.addEventListener('ended', () => this.screen === track && this.endShare());
		this.screen = track;
		this.#events.changed();
		return true;
	}

	endShare(): void {
		this.screen?.stop();
		this.screen = null;
		this.#events.changed();
	}

	readonly #changed = (): void => {
		void this.#list().then(() => this.#events.changed());
	};

	async #list(): Promise<void> {
		const devices = (await this.#access?.enumerateDevices()) ?? [];
		const named = (kind: MediaDeviceKind) =>
			devices
				.filter((device) => device.kind === kind && device.label !== '' && device.deviceId !== FOR_CALLS)
				.map(({ deviceId, label }) => ({ deviceId, label }));
		this.offered.camera = named(INPUT.camera);
		this.offered.microphone = named(INPUT.microphone);
		this.outputs = named('audiooutput').filter(({ deviceId }) => deviceId !== 'default');
	}

	close(): void {
		this.#closed = true;
		this.#access?.removeEventListener('devicechange', this.#changed);
		for (const track of [...Object.values(this.tracks), this.screen]) track?.stop();
	}
}

function ownAccess(): DeviceAccess | null {
	return typeof navigator.mediaDevices?.getUserMedia === 'function' ? navigator.mediaDevices : null;
}

function problemOf(error: unknown): DeviceProblem {
	switch ((error as DOMException).name) {
		case 'NotAllowedError':
		case 'SecurityError':
			return 'refused';
		case 'NotFoundError':
			return 'absent';
		case 'NotReadableError':
			return 'inUse';
		default:
			return 'broken';
	}
}
