/**
 * One side of a connection between a guest's browser and the desk's, made by the pattern of perfect negotiation (W3C WebRTC
 * 1.0, section 10.7): both may offer at any time; where two offers meet, the polite side gives way.
 */
import type { IceServer, Signal } from '../../core/guests/messages.ts';

export interface PeerOptions {
	iceServers: readonly IceServer[];
	polite: boolean;
	/** Called with each offer of the other side's before it is answered: what is sent back is set here. */
	onOffer?(connection: RTCPeerConnection): void;
	/** To the other side, in this order. */
	send(signal: Signal): void;
	/** What has gone wrong with a step; the connection goes on, and is begun anew if it does not come about. */
	onProblem(problem: unknown): void;
}

export class Peer {
	readonly connection: RTCPeerConnection;
	readonly #options: PeerOptions;
	#makesOffer = false;
	#ignoresOffer = false;
	#setsAnswer = false;
	/** Signals are taken one after another. */
	#turn: Promise<void> = Promise.resolve();

	constructor(options: PeerOptions) {
		this.#options = options;
		const { iceServers, send, onProblem } = options;
		const connection = new RTCPeerConnection({
			iceServers: [...iceServers],
			bundlePolicy: 'max-bundle',
		});
		this.connection = connection;
		connection.addEventListener('negotiationneeded', () => void this.#offer().catch(onProblem));
		connection.addEventListener('icecandidate', ({ candidate }) => {
			if (!candidate) return;
			const { candidate: text, sdpMid, sdpMLineIndex, usernameFragment } = candidate;
			send({ is: 'candidate', candidate: text, sdpMid, sdpMLineIndex, usernameFragment });
		});
	}

	async #offer(): Promise<void> {
		this.#makesOffer = true;
		try {
			await this.connection.setLocalDescription();
			this.#sendDescription();
		} finally {
			this.#makesOffer = false;
		}
	}

	#sendDescription(): void {
		const { type, sdp } = this.connection.localDescription!;
		if (type !== 'pranswer') this.#options.send({ is: 'description', type, sdp });
	}

	/** Takes a step of the other side's. */
	receive(signal: Signal): void {
		this.#turn = this.#turn.then(() => this.#take(signal)).catch((error: unknown) => this.#options.onProblem(error));
	}

	async #take(signal: Signal): Promise<void> {
		const { connection } = this;
		if (connection.signalingState === 'closed') return;
		if (signal.is === 'candidate') {
			const { is: _, ...candidate } = signal;
			return connection.addIceCandidate(candidate).catch((error: unknown) => {
				if (!this.#ignoresOffer) throw error;
			});
		}
		const { type, sdp } = signal;
		const ready = !this.#makesOffer && (connection.signalingState === 'stable' || this.#setsAnswer);
		this.#ignoresOffer = type === 'offer' && !ready && !this.#options.polite;
		if (this.#ignoresOffer) return;
		this.#setsAnswer = type === 'answer';
		try {
			await connection.setRemoteDescription({ type, sdp });
		} finally {
			this.#setsAnswer = false;
		}
		if (type !== 'offer') return;
		this.#options.onOffer?.(connection);
		await connection.setLocalDescription();
		this.#sendDescription();
	}

	/** Looks for another way: the network has changed, or the one there was is broken. */
	restart(): void {
		if (this.connection.signalingState !== 'closed') this.connection.restartIce();
	}

	close(): void {
		this.connection.close();
	}
}
