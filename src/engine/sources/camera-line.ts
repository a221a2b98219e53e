/**
 * The desk's line to one camera of the network, which stays whether or not something comes: by RTMP its media come through
 * the server and are decoded in a worker, by WHIP from the camera itself.
 */
import type { Gone } from '../../core/ingest/feed.ts';
import type { LineSignal } from '../../core/ingest/signal.ts';
import type { FromNetwork, ToNetwork } from './network-messages.ts';

/** Addresses of this machine are gathered no longer than this. */
const GATHERING_MS = 1500;

/** What comes from a camera now. */
export type CameraMedia =
	| { by: 'rtmp' }
	| { by: 'whip'; picture: MediaStreamTrack | null; sound: MediaStreamTrack | null }
	/** @property why it has ended; null when nothing has come yet */
	| { by: 'nothing'; why: Gone | null };

interface Offered {
	session: string;
	peer: RTCPeerConnection;
	/** Keeps sound flowing: browsers decode what comes from afar only while something plays it. */
	player: HTMLAudioElement;
}

export class CameraLine {
	readonly cameraId: string;
	readonly #worker: Worker;
	readonly #onChange: () => void;
	#offered: Offered | null = null;
	#media: CameraMedia = { by: 'nothing', why: null };

	/**
	 * @param url of the socket on which the camera's media come
	 * @param onChange called when something else comes than before
	 */
	constructor(cameraId: string, url: string, onChange: () => void) {
		this.cameraId = cameraId;
		this.#onChange = onChange;
		this.#worker = new Worker(new URL('./network.worker.ts', import.meta.url), { type: 'module', name: 'camera' });
		this.#worker.onmessage = ({ data }: MessageEvent<FromNetwork>) => this.#handle(data);
		this.#post({ type: 'open', url });
	}

	get media(): CameraMedia {
		return this.#media;
	}

	/** Lets what comes by RTMP go somewhere; null to nobody. */
	show(picture: MessagePort | null, sound: MessagePort | null): void {
		this.#post(
			{ type: 'show', picture, sound },
			[picture, sound].filter((port) => port !== null),
		);
	}

	#post(message: ToNetwork, transfer: Transferable[] = []): void {
		this.#worker.postMessage(message, transfer);
	}

	#become(media: CameraMedia): void {
		this.#media = media;
		this.#onChange();
	}

	#handle(message: FromNetwork): void {
		if (message.type === 'begun') {
			// What came last counts.
			if (this.#offered) this.#refuse(this.#offered.session);
			this.#become({ by: 'rtmp' });
		} else if (message.type === 'gone') {
			if (this.#media.by === 'rtmp') this.#become({ by: 'nothing', why: message.why });
		} else this.#follow(message.signal);
	}

	#follow(signal: LineSignal): void {
		if (signal.is === 'end') {
			if (this.#offered?.session === signal.session) this.#drop('left');
			return;
		}
		this.#answer(signal).catch(() => this.#refuse(signal.session));
	}

	async #answer({ session, sdp, iceServers }: Extract<LineSignal, { is: 'offer' }>): Promise<void> {
		this.#hangUp();
		const peer = new RTCPeerConnection({ iceServers, bundlePolicy: 'max-bundle' });
		const player = new Audio();
		player.muted = true;
		const offered = (this.#offered = { session, peer, player });
		const isNow = () => this.#offered === offered;
		peer.addEventListener('connectionstatechange', () => {
			if (!isNow()) return;
			if (peer.connectionState === 'connected') this.#takeTracks(offered);
			else if (peer.connectionState === 'failed' || peer.connectionState === 'closed') this.#refuse(session);
		});
		await peer.setRemoteDescription({ type: 'offer', sdp });
		await peer.setLocalDescription();
		await gathered(peer);
		if (isNow()) this.#post({ type: 'answer', answer: { is: 'answer', session, sdp: peer.localDescription!.sdp } });
	}

	#takeTracks({ peer, player }: Offered): void {
		const trackOf = (kind: string) =>
			peer.getTransceivers().find(({ receiver, currentDirection }) => {
				return receiver.track.kind === kind && currentDirection?.includes('recv');
			})?.receiver.track ?? null;
		const [picture, sound] = [trackOf('video'), trackOf('audio')];
		for (const { receiver } of peer.getTransceivers()) receiver.jitterBufferTarget = 0;
		if (sound) {
			player.srcObject = new MediaStream([sound]);
			player.play().catch(() => {});
		}
		this.#become({ by: 'whip', picture, sound });
	}

	/** It is not taken, or does not go on. */
	#refuse(session: string): void {
		this.#post({ type: 'answer', answer: { is: 'answer', session, sdp: null } });
		if (this.#offered?.session === session) this.#drop('torn');
	}

	#drop(why: Gone): void {
		this.#hangUp();
		if (this.#media.by === 'whip') this.#become({ by: 'nothing', why });
	}

	#hangUp(): void {
		if (!this.#offered) return;
		const { peer, player } = this.#offered;
		this.#offered = null;
		player.srcObject = null;
		peer.close();
	}

	close(): void {
		this.#hangUp();
		this.#worker.terminate();
	}
}

/** Resolves when all addresses of this machine are known, or enough time has passed. */
async function gathered(peer: RTCPeerConnection): Promise<void> {
	if (peer.iceGatheringState === 'complete') return;
	const done = Promise.withResolvers<void>();
	peer.addEventListener('icegatheringstatechange', () => peer.iceGatheringState === 'complete' && done.resolve());
	const timer = setTimeout(done.resolve, GATHERING_MS);
	await done.promise;
	clearTimeout(timer);
}
