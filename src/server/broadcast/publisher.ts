/**
 * Sends one broadcast to one destination: connects, publishes, and comes back after a loss.
 *
 *   connecting → live → lost → (waits) → connecting …      refused: waits for a person
 *
 * Each publisher has its own bounded queue, the socket's, so a slow host delays nobody else. When the queue is
 * full, whole groups of pictures are dropped up to a key frame, never single pictures that others build on.
 */
import { isDeepStrictEqual } from 'node:util';
import { retryDelayMs } from '../../core/delivery/backoff.ts';
import type { SendFault } from '../../core/delivery/send-fault.ts';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import { idleStatus, type DestinationPhase, type DestinationStatus } from '../../core/show/messages.ts';
import { log } from '../log.ts';
import { addressOf, Connection, withoutSecrets, wordsWithoutSecrets, type PublishOrder } from './connection.ts';
import { SignedAccount } from '../hosts/signed-account.ts';
import { JsonAccount, type HostAccount, type HostMessage } from '../hosts/host-account.ts';

/** After this long in good order a loss counts as the first one again. */
const STEADY_MS = 30_000;
/** How often a host is asked how viewers get the stream. */
const ASK_EVERY_MS = 3000;

const NOTHING_SENT = { rateKbps: 0, queueBytes: 0, audience: null };

/** Messages of viewers that are kept. */
const MOST_MESSAGES = 200;

type AccountOrder = Pick<PublishOrder, 'accountUrl' | 'token' | 'key' | 'reach' | 'signed' | 'signIns'>;

/** The host's account of a destination, or null where it has none. */
export function accountOf({ accountUrl, token, key, reach, signed, signIns }: AccountOrder): HostAccount | null {
	if (signed && signIns) return signIns.has(signed.hostId) ? new SignedAccount(signIns, signed) : null;
	return accountUrl === null ? null : new JsonAccount(accountUrl, token || key, reach);
}

export class Publisher {
	readonly order: PublishOrder;
	readonly status: DestinationStatus;
	#changed: () => void;
	readonly #joined: () => void;
	#configs: { video: VideoConfig; audio: AudioConfig } | null = null;
	#connection: Connection | null = null;
	#timer: NodeJS.Timeout | null = null;
	#ended = false;
	#rate = { bytes: 0, at: 0 };
	#account: HostAccount | null;
	#askedAt = 0;
	#isAsking = false;
	/** What viewers have written since the beginning, the newest last. */
	messages: HostMessage[] = [];

	/**
	 * @param changed called when the phase changes
	 * @param joined called when the host takes packets, from the next key frame on
	 */
	constructor(order: PublishOrder, changed: () => void, joined: () => void = () => {}) {
		this.#joined = joined;
		this.order = order;
		this.status = idleStatus(order.id, Date.now());
		this.#changed = changed;
		this.#account = order.account ?? accountOf(order);
	}

	/**
	 * What the engine's packets mean. The first call connects; later ones tell the host only what has changed, since
	 * whoever hears of a new form must wait for the next key frame.
	 */
	configure(video: VideoConfig, audio: AudioConfig): void {
		const before = this.#configs;
		this.#configs = { video, audio };
		if (!before) this.#connect();
		else if (!isDeepStrictEqual(before, this.#configs)) this.#connection?.introduce(this.#configs);
	}

	/** Sends a packet when the host is ready for it; its time is on the broadcast's line. */
	send(packet: MediaPacket): void {
		this.#connection?.send(packet);
	}

	/** Tries again at once, also after a refusal. */
	retry(): void {
		if (this.#ended || !this.#configs || this.status.phase === 'live' || this.status.phase === 'connecting') return;
		this.#connect();
	}

	#connect(): void {
		if (this.#timer) clearTimeout(this.#timer);
		this.#timer = null;
		const found = addressOf(this.order);
		if ('fault' in found) return this.#become('refused', found.fault);
		this.status.attempts++;
		// What is tried again is lost until it is live; otherwise it would be named, and call, anew with every attempt.
		this.#become('connecting', this.status.phase === 'lost' ? this.status.fault : null);
		const connection = new Connection(this.order, found.address, this.#configs!, this.status, {
			live: () => {
				this.#become('live');
				this.#joined();
			},
			refused: (fault) => {
				this.#connection = null;
				this.#become('refused', withoutSecrets(fault, this.order));
			},
			lost: (fault) => {
				this.#connection = null;
				this.#loseAndRetry(withoutSecrets(fault, this.order));
			},
		});
		this.#connection = connection;
	}

	#loseAndRetry(fault: SendFault): void {
		if (this.#ended) return;
		const wasSteady = this.status.phase === 'live' && Date.now() - this.status.since > STEADY_MS;
		if (wasSteady) this.status.attempts = 1;
		const delayMs = retryDelayMs(this.status.attempts - 1);
		this.#timer = setTimeout(() => this.#connect(), delayMs);
		this.#become('lost', fault, Date.now() + delayMs);
	}

	#become(phase: DestinationPhase, fault: SendFault | null = null, retryAt = 0): void {
		const { status } = this;
		log.info({ destination: this.order.name, phase, fault }, 'Destination');
		// A destination that is tried again and again has been lost since the first time.
		const stillTrying = ['connecting', 'lost'].includes(status.phase) && ['connecting', 'lost'].includes(phase);
		if (status.phase !== phase && !stillTrying) status.since = Date.now();
		Object.assign(status, { phase, fault, retryAt, ...(phase === 'live' ? {} : NOTHING_SENT) });
		this.#changed();
	}

	/** Brings rate and queue up to date; called about once a second. */
	measure(now: number): void {
		const connection = this.#connection;
		if (!connection || this.status.phase !== 'live') return;
		const bytes = connection.bytesTaken;
		const { status } = this;
		const rate = this.#rate;
		if (bytes >= rate.bytes && now > rate.at)
			status.rateKbps = Math.round(((bytes - rate.bytes) * 8) / (now - rate.at));
		this.#rate = { bytes, at: now };
		status.queueBytes = connection.queueBytes;
		connection.checkPatience(now);
		if (!this.#isAsking && now - this.#askedAt > ASK_EVERY_MS) void this.#askAudience(now);
	}

	/** Asks the host how many watch and whether they see it. A host that does not answer is no trouble. */
	async #askAudience(now: number): Promise<void> {
		this.#askedAt = now;
		this.#isAsking = true;
		const audience = (await this.#account?.audience().catch(() => null)) ?? null;
		this.status.audience = this.status.phase === 'live' ? audience : null;
		const more = (await this.#account?.messages(this.messages.at(-1)?.id ?? 0).catch(() => null)) ?? [];
		if (more.length > 0) this.messages = [...this.messages, ...more].slice(-MOST_MESSAGES);
		this.#isAsking = false;
	}

	/** Asks the host to let viewers in. @throws with a sentence when it does not */
	async makePublic(): Promise<void> {
		try {
			if (this.#account) this.status.audience = await this.#account.makePublic();
		} catch (error) {
			throw new Error(wordsWithoutSecrets((error as Error).message, this.order), { cause: error });
		}
	}

	/** Writes to those who watch there. @returns false when the host has not taken it, or takes none */
	async post(text: string): Promise<boolean> {
		if (!this.#account || this.status.phase !== 'live') return false;
		return this.#account.post(text).then(
			() => true,
			(error: unknown) => {
				const problem = wordsWithoutSecrets((error as Error).message, this.order);
				log.warn({ destination: this.order.name, problem }, 'A message to viewers was not taken');
				return false;
			},
		);
	}

	/** Lets go without telling the host, which would take it for the end. */
	cut(): void {
		this.#ended = true;
		if (this.#timer) clearTimeout(this.#timer);
		this.#connection?.cut();
		this.#connection = null;
	}

	/** Ends in good order: unpublishes, lets the rest go out, closes. */
	async end(): Promise<void> {
		this.#ended = true;
		if (this.#timer) clearTimeout(this.#timer);
		const connection = this.#connection;
		this.#connection = null;
		await connection?.end();
		this.#become('off');
	}

	/**
	 * Tells a connected account that the broadcast is over, which the end of a stream does not say: it may be sent anew
	 * with another key, or go on when the server is back. Where nothing is connected nobody is told.
	 */
	async conclude(): Promise<void> {
		if (this.order.token !== '' || this.order.signed) await this.#account?.end().catch(() => {});
	}
}
