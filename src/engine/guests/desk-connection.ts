/** The guest's side of the connection with the desk: made when there is a desk, made anew when it breaks. */
import { LineLoss, type LossReport } from '../../core/guests/line-loss.ts';
import { PictureSize } from '../../core/guests/picture-size.ts';
import type { GuestLine, IceServer, Signal } from '../../core/guests/messages.ts';
import type { WantedPicture } from '../../core/show/guests/guest.ts';
import { TRANSCEIVERS, type GuestMedia } from './media.ts';
import { Peer } from './peer.ts';

/** A connection that stutters for longer than this looks for another way. */
const STUTTER_MS = 2500;
/** One that has not come about by then is begun anew. */
const PATIENCE_MS = 8000;
const MEASURE_MS = 2000;
/** Lines are rounded: a little less is not less. */
const ENOUGH = 0.9;
/** A browser feels its way up: so many measurements of less are less. */
const SURE_LESS = 4;
const SCREEN_BITS = 1_500_000;
const VOICE_BITS = 64_000;

export interface DeskConnectionEvents {
	send(desk: string, connection: string, signal: Signal): void;
	/** What the guest hears; null while there is no connection. */
	hears(sound: MediaStream | null): void;
	state(state: 'none' | 'connecting' | 'connected' | 'broken'): void;
	line(line: Omit<GuestLine, 'echo'>): void;
}

export interface DeskConnectionOptions {
	iceServers: readonly IceServer[];
}

export class DeskConnection {
	readonly #events: DeskConnectionEvents;
	#options: DeskConnectionOptions;
	#desk: string | null = null;
	#peer: Peer | null = null;
	#connection = '';
	#media: GuestMedia = { voice: null, camera: null, screen: null };
	#wanted: WantedPicture = { height: 180, fps: 10 };
	readonly #size = new PictureSize();
	#patience: ReturnType<typeof setTimeout> | undefined;
	#measuring: ReturnType<typeof setInterval>;
	/** Measurements at which less was sent than was wanted, in a row. */
	#lessFor = 0;
	#loss = new LineLoss();

	constructor(options: DeskConnectionOptions, events: DeskConnectionEvents) {
		this.#options = options;
		this.#events = events;
		this.#measuring = setInterval(() => void this.#measure(), MEASURE_MS);
		window.addEventListener('online', this.#restart);
	}

	/** Credentials of relays are good for a while only. */
	set options(options: DeskConnectionOptions) {
		this.#options = options;
	}

	/** The page that makes the program, by its name; null while there is none. Another one is connected to anew. */
	meet(desk: string | null): void {
		// Sound and picture go on without the server: a desk that is told of no more may still be there.
		if (desk === null || desk === this.#desk) return;
		this.#desk = desk;
		this.#begin();
	}

	/** What the guest sends, from now on. */
	send(media: GuestMedia): void {
		this.#media = media;
		void this.#sendTracks();
	}

	/** How large a picture is of use. */
	want(wanted: WantedPicture): void {
		this.#wanted = wanted;
		void this.#setSizes();
	}

	receive(connection: string, signal: Signal): void {
		if (connection === this.#connection) this.#peer?.receive(signal);
	}

	#begin(): void {
		this.#peer?.close();
		clearTimeout(this.#patience);
		const desk = this.#desk!;
		const attempt = crypto.randomUUID();
		this.#connection = attempt;
		this.#loss = new LineLoss();
		this.#size.forget();
		const peer = new Peer({
			...this.#options,
			polite: true,
			send: (signal) => this.#peer === peer && this.#events.send(desk, attempt, signal),
			// It is begun anew when it does not come about.
			onProblem: () => {},
		});
		this.#peer = peer;
		const { connection } = peer;
		// In one stream the browser keeps voice and lips together.
		const streams = [new MediaStream()];
		const [voice, ...pictures] = TRANSCEIVERS.map((name) => {
			const isVoice = name === 'voice';
			const sendEncodings = [
				isVoice
					? { maxBitrate: VOICE_BITS, priority: 'high' as const, networkPriority: 'high' as const }
					: { maxBitrate: SCREEN_BITS },
			];
			const direction = isVoice ? 'sendrecv' : 'sendonly';
			const together = name === 'screen' ? {} : { streams };
			return connection.addTransceiver(isVoice ? 'audio' : 'video', { direction, sendEncodings, ...together });
		});
		for (const picture of pictures) preferCheap(picture);
		connection.addEventListener('track', () => this.#events.hears(new MediaStream([voice!.receiver.track])));
		connection.addEventListener('connectionstatechange', () => this.#peer === peer && this.#follow(peer));
		this.#events.state('connecting');
		this.#patience = setTimeout(() => this.#begin(), PATIENCE_MS);
		void this.#sendTracks();
	}

	#follow(peer: Peer): void {
		const { connectionState } = peer.connection;
		if (connectionState === 'connected') {
			clearTimeout(this.#patience);
			this.#events.state('connected');
			void this.#setSizes();
		} else if (connectionState === 'disconnected') {
			this.#events.state('broken');
			clearTimeout(this.#patience);
			this.#patience = setTimeout(() => {
				peer.restart();
				this.#patience = setTimeout(() => this.#begin(), PATIENCE_MS);
			}, STUTTER_MS);
		} else if (connectionState === 'failed') {
			this.#events.state('broken');
			this.#begin();
		}
	}

	readonly #restart = (): void => this.#peer?.restart();

	async #sendTracks(): Promise<void> {
		const transceivers = this.#peer?.connection.getTransceivers() ?? [];
		await Promise.all(
			TRANSCEIVERS.map((name, i) =>
				// The connection may be closed meanwhile.
				transceivers[i]?.sender.replaceTrack(this.#media[name]).catch(() => {}),
			),
		);
		await this.#setSizes();
	}

	/** Of the camera's own picture: a phone held upright has its short side across. */
	get #ownHeight(): number {
		const { width = 0, height = 0 } = this.#media.camera?.getSettings() ?? {};
		return Math.min(width, height) || this.#wanted.height;
	}

	/** What is sent on a good line. */
	get #best(): WantedPicture {
		return { ...this.#wanted, height: Math.min(this.#wanted.height, this.#ownHeight) };
	}

	async #setSizes(): Promise<void> {
		const [, camera] = this.#peer?.connection.getTransceivers() ?? [];
		if (!camera) return;
		const parameters = camera.sender.getParameters();
		const [encoding] = parameters.encodings ?? [];
		if (!encoding) return;
		const { height, fps, kbps } = this.#size.fit(this.#best);
		encoding.scaleResolutionDownBy = Math.max(1, this.#ownHeight / height);
		encoding.maxFramerate = fps;
		encoding.maxBitrate = 1000 * kbps;
		// A weak line makes it softer before it makes it jump.
		parameters.degradationPreference = 'maintain-framerate';
		await camera.sender.setParameters(parameters).catch(() => {});
	}

	async #measure(): Promise<void> {
		const peer = this.#peer;
		if (peer?.connection.connectionState !== 'connected') return;
		const stats = await peer.connection.getStats();
		if (this.#peer !== peer) return;
		const line: Omit<GuestLine, 'echo'> = {
			...{ availableKbps: null, roundTripMs: null, lost: null },
			...{ height: null, fps: null, isLess: false },
		};
		const camera = peer.connection.getTransceivers()[TRANSCEIVERS.indexOf('camera')]?.mid;
		const reports: LossReport[] = [];
		stats.forEach((each: { type: string } & Record<string, unknown>) => {
			if (each.type === 'candidate-pair' && each.nominated === true) {
				if (typeof each.availableOutgoingBitrate === 'number')
					line.availableKbps = Math.round(each.availableOutgoingBitrate / 1000);
				if (typeof each.currentRoundTripTime === 'number') line.roundTripMs = 1000 * each.currentRoundTripTime;
			}
			if (each.type === 'outbound-rtp' && each.mid === camera && Number(each.framesPerSecond ?? 0) > 0) {
				line.height = Math.min(Number(each.frameWidth), Number(each.frameHeight));
				line.fps = Number(each.framesPerSecond);
			}
			if (each.type === 'remote-inbound-rtp' && typeof each.fractionLost === 'number')
				reports.push({
					of: each.kind === 'audio' ? 'voice' : 'pictures',
					at: Number(each.timestamp),
					lost: Math.min(1, Math.max(0, each.fractionLost)),
				});
		});
		if (this.#size.observe(this.#loss.take(reports))) void this.#setSizes();
		line.lost = this.#loss.part;
		const best = this.#best;
		this.#lessFor = line.height !== null && line.height < ENOUGH * best.height ? this.#lessFor + 1 : 0;
		line.isLess = this.#lessFor >= SURE_LESS || this.#size.fit(best).height < best.height;
		this.#events.line(line);
	}

	close(): void {
		clearInterval(this.#measuring);
		clearTimeout(this.#patience);
		window.removeEventListener('online', this.#restart);
		this.#peer?.close();
		this.#peer = null;
	}
}

/** H.264 costs the desk the least to receive; the others stay, for browsers that cannot send it. */
function preferCheap(transceiver: RTCRtpTransceiver): void {
	const { codecs } = RTCRtpSender.getCapabilities('video') ?? { codecs: [] };
	const isCheap = ({ mimeType }: { mimeType: string }) => mimeType === 'video/H264';
	if ('setCodecPreferences' in transceiver && codecs.some(isCheap))
		transceiver.setCodecPreferences([...codecs.filter(isCheap), ...codecs.filter((codec) => !isCheap(codec))]);
}
