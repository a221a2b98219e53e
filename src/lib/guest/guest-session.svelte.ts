/** What a guest's page works with: their devices, their place at the event, and the connection with the desk. */
import type { NamedDevice } from '../../core/guests/devices.ts';
import type {
	AboutGuest,
	FromGuest,
	GuestEnd,
	GuestLine,
	IceServer,
	Said,
	ToGuest,
	ViewerWrote,
} from '../../core/guests/messages.ts';
import type { Situation } from '../../core/show/guests/guest.ts';
import { DeskConnection } from '../../engine/guests/desk-connection.ts';
import { OwnDevices, type DeviceKind, type DeviceProblem } from '../../engine/guests/own-devices.ts';
import type { StandInDevices } from '../../engine/guests/stand-in-guest.ts';
import { ServerSocket } from '../../engine/server-socket.ts';
import { canWatch } from '../../engine/watch/view-decoder.ts';
import { keep, readKept, type Kept } from './kept.ts';
import { OwnRecording } from './own-recording.svelte.ts';
import { SelfCheck } from './self-check.svelte.ts';

/** So often the server is not reached before it is asked whether the guest may still be here. */
const ASK_AFTER = 3;
const CLOSE_CHANGED = 4001;

/** Why somebody is there no more, also by a press of their own. */
export type Ended = GuestEnd | 'left' | 'linkGone';

/** Views that a guest may look at. */
type Looked = 'program' | 'forGuests';

export type LineState = 'none' | 'connecting' | 'connected' | 'broken';

export class GuestSession {
	readonly #eventId: string;
	readonly #guestId: string;
	readonly #devices: OwnDevices;
	readonly #standIn: StandInDevices | null;
	/** What is chosen here is kept for another day. */
	readonly #isKept: boolean;
	#battery: number | null = null;
	#socket: ServerSocket | null = null;
	#link: DeskConnection | null = null;
	#failed = 0;
	/** Takes pictures of a view, while somebody looks at them here. */
	#looksOn: { view: Looked; take: (packet: ArrayBuffer) => void } | null = null;

	/** As everybody will see it. */
	name = $state('');
	/** True from when they have asked to be let in. */
	hasKnocked = $state(false);
	ended = $state.raw<Ended | null>(null);
	title = $state('');
	situation = $state.raw<Situation | null>(null);
	said = $state.raw<Said[]>([]);
	/** How many of those the guest has not looked at. */
	unread = $state(0);
	/** What viewers write, for who wants to read it. */
	viewers = $state.raw<ViewerWrote[]>([]);
	readsViewers = $state(false);
	/** True while the server is reached. */
	connected = $state(false);
	/** False while no page makes the program. */
	hasDesk = $state(true);
	lineState = $state<LineState>('none');
	line = $state.raw<GuestLine | null>(null);
	/** What the guest hears. */
	hears = $state.raw<MediaStream | null>(null);
	/** Server's clock minus this machine's, milliseconds. */
	clockOffsetMs = $state(0);

	muted = $state(false);
	/** True while a key opens a microphone that is muted. */
	speaksWhileHeld = $state(false);
	cameraOff = $state(false);
	hand = $state(false);
	/** What the guest looks at. */
	looksAt = $state<Kept['looksAt']>('self');
	/** True while the crew has chosen a scene for guests to see. */
	hasScene = $state(false);
	camera = $state.raw<MediaStreamTrack | null>(null);
	microphone = $state.raw<MediaStreamTrack | null>(null);
	screen = $state.raw<MediaStreamTrack | null>(null);
	problems = $state.raw<Record<DeviceKind, DeviceProblem | null>>({ camera: null, microphone: null });
	offered = $state.raw<Record<DeviceKind, NamedDevice[]>>({ camera: [], microphone: [] });
	outputs = $state.raw<NamedDevice[]>([]);
	outputId = $state('');
	volume = $state(1);
	/** Their own picture, voice and line. */
	readonly check: SelfCheck;
	/** Null for who is never asked. */
	readonly own: OwnRecording | null;
	/** True when they want to be recorded by their own browser. */
	wantsOwn = $state(false);
	/** The broadcast that it would lie beside; null while there is none. */
	#broadcast: string | null = null;

	#lock: WakeLockSentinel | null = null;

	/**
	 * @param name as whoever made the link calls the guest
	 * @param options.standIn devices in place of the browser's own
	 * @param options.isPhone true for a phone that is a camera: of the back, without sound at first, and nothing kept of it
	 */
	constructor(
		eventId: string,
		guestId: string,
		name: string,
		{ standIn = null, isPhone = false }: { standIn?: StandInDevices | null; isPhone?: boolean } = {},
	) {
		this.#isKept = standIn === null && !isPhone;
		this.muted = isPhone;
		this.#standIn = standIn;
		this.#eventId = eventId;
		this.#guestId = guestId;
		const kept = readKept();
		this.name = this.#isKept ? kept.name || name : name;
		this.outputId = kept.outputId;
		this.volume = kept.volume;
		this.readsViewers = kept.readsViewers;
		this.looksAt = canWatch() ? kept.looksAt : 'self';
		this.own = isPhone ? null : new OwnRecording(eventId, guestId);
		this.wantsOwn = this.#isKept && kept.recordsFor === guestId;
		const kinds = this.#isKept ? kept : { camera: null, microphone: null };
		const access: [] | [StandInDevices] = standIn ? [standIn] : [];
		this.#devices = new OwnDevices(kinds, { changed: () => this.#readDevices() }, ...access);
		if (isPhone) this.#devices.facing = 'back';
		this.check = new SelfCheck(`/api/events/${eventId}/guest/${guestId}/line`, () => this.isMuted);
		document.addEventListener('visibilitychange', this.#seenAgain);
	}

	/** Asks for camera and microphone. */
	prepare(): Promise<void> {
		return this.#devices.open();
	}

	#readDevices(): void {
		const { tracks, problems, offered, outputs, screen } = this.#devices;
		if (tracks.camera !== this.camera) {
			this.camera = tracks.camera;
			this.check.lookAt(tracks.camera);
		}
		if (tracks.microphone !== this.microphone) {
			this.microphone = tracks.microphone;
			this.check.listenTo(tracks.microphone);
		}
		this.screen = screen;
		this.problems = { ...problems };
		this.offered = { ...offered };
		this.outputs = outputs;
		this.#send();
	}

	async choose(kind: DeviceKind, deviceId: string): Promise<void> {
		await this.#devices.choose(kind, deviceId);
		keep({ [kind]: this.#devices.chosen[kind] });
	}

	chooseOutput(deviceId: string): void {
		this.outputId = deviceId;
		this.check.forgetEcho();
		keep({ outputId: deviceId });
	}

	lookAt(what: Kept['looksAt']): void {
		this.looksAt = what;
		keep({ looksAt: what });
	}

	readViewers(wanted: boolean): void {
		this.readsViewers = wanted;
		keep({ readsViewers: wanted });
		this.#tell({ type: 'readViewers', wanted });
	}

	setVolume(volume: number): void {
		this.volume = volume;
		keep({ volume });
	}

	/** Asks to be let in. Called from a press. */
	knock(name: string): void {
		this.name = name;
		if (this.#isKept) keep({ name });
		this.hasKnocked = true;
		this.ended = null;
		this.check.wake();
		void this.#stayAwake();
		if (this.#socket) return this.#tell({ type: 'knock', name });
		const url = `${location.origin.replace(/^http/, 'ws')}/guest/${this.#eventId}/${this.#guestId}`;
		const socket = new ServerSocket(url);
		this.#socket = socket;
		socket.onheard = (data) =>
			typeof data === 'string' ? this.#handle(JSON.parse(data) as ToGuest) : this.#looksOn?.take(data);
		socket.onclose = ({ code }) => {
			this.connected = false;
			if (this.ended) return;
			if (++this.#failed >= ASK_AFTER || code === CLOSE_CHANGED) void this.#askWhetherIn();
		};
	}

	/** The server turns the page away when its link opens nothing any more. */
	async #askWhetherIn(): Promise<void> {
		const answer = await fetch(location.pathname, { method: 'HEAD', redirect: 'manual' }).catch(() => null);
		if (answer && !answer.ok && !this.ended) this.#end('linkGone');
	}

	#handle(message: ToGuest): void {
		switch (message.type) {
			case 'welcome':
				this.connected = true;
				this.#failed = 0;
				this.title = message.title;
				this.said = message.said;
				// What the crew has hidden meanwhile is not told of.
				this.viewers = [];
				this.#meetDesk(message.iceServers);
				this.#tell({ type: 'knock', name: this.name });
				this.#tell({ type: 'readViewers', wanted: this.readsViewers });
				return this.#tellAbout();
			case 'situation':
				this.clockOffsetMs = message.now - Date.now();
				this.situation = message.situation;
				this.hasDesk = message.desk !== null;
				this.hasScene = message.hasScene;
				this.#broadcast = message.broadcast;
				this.#record();
				void this.#devices.treat(message.treatment);
				this.#link?.want(message.picture);
				this.#link?.meet(message.desk);
				return this.#tellWatching();
			case 'signal':
				return this.#link?.receive(message.connection, message.signal);
			case 'said':
				this.said = [...this.said, message.said];
				if (message.said.by === 'crew') this.unread++;
				return;
			case 'viewers':
				this.viewers = message.wrote;
				return;
			case 'ended':
				return this.#end(message.why);
		}
	}

	#meetDesk(iceServers: readonly IceServer[]): void {
		const options = { iceServers };
		if (this.#link) {
			this.#link.options = options;
			return;
		}
		this.#link = new DeskConnection(options, {
			send: (desk, connection, signal) => this.#tell({ type: 'signal', desk, connection, signal }),
			hears: (sound) => {
				this.hears = sound;
				this.check.listenToPlayed(sound?.getAudioTracks()[0] ?? null);
				this.#standIn?.play(sound);
			},
			state: (state) => (this.lineState = state),
			line: (line) => {
				this.line = { ...line, echo: this.check.comesBack && !this.isMuted };
				this.#tell({ type: 'line', line: this.line });
			},
		});
		this.#send();
	}

	/** Gives the desk what is to be sent now. */
	#send(): void {
		if (this.microphone) this.microphone.enabled = !this.isMuted;
		this.#link?.send({ voice: this.microphone, camera: this.camera, screen: this.screen });
		this.#record();
		this.#tellAbout();
	}

	/** Records what there is, while there is something to record it beside, for who wants that. */
	#record(): void {
		const tracks = [this.camera, this.microphone].filter((track) => track !== null);
		const before = this.own?.isRecording;
		this.own?.record(this.wantsOwn ? this.#broadcast : null, tracks, Date.now() + this.clockOffsetMs);
		if (this.own?.isRecording !== before) this.#tellAbout();
	}

	setWantsOwn(wants: boolean): void {
		this.wantsOwn = wants;
		if (this.#isKept) keep({ recordsFor: wants ? this.#guestId : '' });
		this.#record();
	}

	get isMuted(): boolean {
		return this.muted && !this.speaksWhileHeld;
	}

	setMuted(muted: boolean): void {
		this.muted = muted;
		this.#send();
	}

	/** A muted microphone is heard while a key is held. */
	holdToSpeak(held: boolean): void {
		if (held === this.speaksWhileHeld || (held && !this.muted)) return;
		this.speaksWhileHeld = held;
		this.#send();
	}

	async setCameraOff(off: boolean): Promise<void> {
		this.cameraOff = off;
		await this.#devices.setCamera(!off);
	}

	async toggleShare(): Promise<void> {
		if (this.screen) this.#devices.endShare();
		else await this.#devices.share();
	}

	/** False in a browser that cannot show the program. */
	get canWatch(): boolean {
		return canWatch();
	}

	get canShare(): boolean {
		return this.#devices.canShare;
	}

	turnCamera(): Promise<void> {
		return this.#devices.turn();
	}

	/** @param level 0 to 1, null while it is being charged */
	setBattery(level: number | null): void {
		this.#battery = level;
		this.#tellAbout();
	}

	setHand(hand: boolean): void {
		this.hand = hand;
		this.#tellAbout();
	}

	say(text: string): void {
		this.#tell({ type: 'say', text });
	}

	/**
	 * Shows pictures of a view as they come.
	 * @returns a function that ends it
	 */
	watch(view: Looked, take: (packet: ArrayBuffer) => void): () => void {
		const looks = (this.#looksOn = { view, take });
		this.#tellWatching();
		return () => {
			if (this.#looksOn !== looks) return;
			this.#looksOn = null;
			this.#tellWatching();
		};
	}

	#tellWatching(): void {
		this.#tell({ type: 'watch', view: this.#looksOn?.view ?? null });
	}

	#tellAbout(): void {
		const about: AboutGuest = {
			muted: this.isMuted || this.microphone === null,
			cameraOff: this.camera === null,
			sharing: this.screen !== null,
			hand: this.hand,
			battery: this.#battery,
			records: this.own?.isRecording ?? false,
		};
		this.#tell({ type: 'about', ...about });
	}

	#tell(message: FromGuest): void {
		if (this.#socket?.readyState === ServerSocket.OPEN) this.#socket.send(JSON.stringify(message));
	}

	leave(): void {
		this.#tell({ type: 'leave' });
		this.#end('left');
	}

	#end(why: Ended): void {
		this.ended = why;
		this.hasKnocked = false;
		this.situation = null;
		this.hand = false;
		this.#socket?.close();
		this.#socket = null;
		this.#link?.close();
		this.#link = null;
		this.hears = null;
		this.check.listenToPlayed(null);
		this.lineState = 'none';
		this.#broadcast = null;
		this.#record();
		void this.#lock?.release();
		this.#lock = null;
	}

	/** The screen stays on: a phone that locks itself takes its camera away. */
	async #stayAwake(): Promise<void> {
		if (!('wakeLock' in navigator) || this.#lock) return;
		this.#lock = await navigator.wakeLock.request('screen').catch(() => null);
		this.#lock?.addEventListener('release', () => (this.#lock = null));
	}

	readonly #seenAgain = (): void => {
		if (document.visibilityState === 'hidden') return;
		void this.#devices.reopen();
		if (this.hasKnocked) void this.#stayAwake();
	};

	close(): void {
		document.removeEventListener('visibilitychange', this.#seenAgain);
		this.#end('left');
		this.own?.close();
		this.#devices.close();
		this.check.close();
		this.#standIn?.close();
	}
}
