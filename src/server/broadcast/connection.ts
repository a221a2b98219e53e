/** One connection to a host: RTMP over TCP or TLS, from connect to close, with a bounded queue. */
import { createHash, randomBytes } from 'node:crypto';
import net from 'node:net';
import tls from 'node:tls';
import { formatAddress, parseAddress, type RtmpAddress } from '../../core/delivery/address.ts';
import { aacFrame, aacSequenceHeader, avcPicture, avcSequenceHeader } from '../../core/delivery/flv.ts';
import { metaDataOf } from '../../core/delivery/meta-data.ts';
import { answerTo, type Challenge } from '../../core/delivery/rtmp/challenge.ts';
import { RtmpPublishSession, type PublishEvent } from '../../core/delivery/rtmp/client.ts';
import { RANDOM_BYTES } from '../../core/delivery/rtmp/handshake.ts';
import type { SendFault } from '../../core/delivery/send-fault.ts';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import type { DestinationStatus } from '../../core/show/messages.ts';
import type { HostAccount } from '../hosts/host-account.ts';
import type { SignedAt } from '../hosts/signed-account.ts';
import type { SignIns } from '../hosts/sign-ins.ts';
import type { Reach } from './reach.ts';

/** A destination with everything needed to connect to it. */
export interface PublishOrder {
	id: string;
	name: string;
	address: string;
	key: string;
	userName: string;
	password: string;
	/** URL of the host's account for this place, or null. */
	accountUrl: string | null;
	/** Opens the account where it was connected; elsewhere the key does. */
	token: string;
	/** Where it may lead. */
	reach: Reach;
	/** Its place at a host that is signed in to, where it has one. */
	signed?: SignedAt | null;
	signIns?: SignIns;
	/** Its account where this server is the host itself. */
	account?: HostAccount | null;
}

/** Longest time for a host to take the connection, answer, or take more bytes. */
const PATIENCE_MS = 10_000;
/** A host gets this long to take what is left when the broadcast ends. */
const FAREWELL_MS = 3000;
const MAX_QUEUE_BYTES = 4 * 1024 * 1024;
/** A host asks for the name, then for a proof. */
const MOST_ANSWERS = 3;

const md5 = (text: string) => createHash('md5').update(text).digest('base64');

/** Where an order goes, or why it cannot go anywhere. */
export function addressOf({ address, key, reach }: PublishOrder): { address: RtmpAddress } | { fault: SendFault } {
	const parsed = parseAddress(address);
	if ('problem' in parsed) return { fault: { code: 'noAddress', about: {} } };
	const { host, port } = parsed.address;
	if (net.isIP(host) !== 0 && !reach.covers(host))
		return { fault: { code: 'outOfReach', about: { where: `${host}:${port}` } } };
	return key === '' ? { fault: { code: 'noKey', about: {} } } : parsed;
}

interface ConnectionEvents {
	live: () => void;
	refused: (fault: SendFault) => void;
	lost: (fault: SendFault) => void;
}

/** One connection to a host, from connect to close. Calls exactly one of `refused` and `lost`, once. */
export class Connection {
	#order: PublishOrder;
	#address: RtmpAddress;
	#socket: net.Socket;
	#session: RtmpPublishSession;
	/** How often the host has asked for the login. */
	#answers = 0;
	#isInClear = false;
	#events: ConnectionEvents;
	#configs: { video: VideoConfig; audio: AudioConfig } | null;
	#status: Pick<DestinationStatus, 'lostFrames'>;
	#over = false;
	/** A group of pictures is being dropped; the next key frame ends that. */
	#waitingForKey = true;
	#begun = false;
	/** Times of the last packets: headers that come in mid-stream must not step back, nor what follows them. */
	#lastMs = { video: 0, audio: 0 };
	#deadline: NodeJS.Timeout;
	#lastProgress = { taken: 0, at: Date.now() };

	/**
	 * @param configs what the packets mean; null for a connection that never sends any
	 * @param status where frames that were dropped are counted
	 */
	constructor(
		order: PublishOrder,
		address: RtmpAddress,
		configs: { video: VideoConfig; audio: AudioConfig } | null,
		status: Pick<DestinationStatus, 'lostFrames'>,
		events: ConnectionEvents,
	) {
		this.#events = events;
		this.#configs = configs;
		this.#status = status;
		this.#order = order;
		this.#address = address;
		const where = `${address.host}:${address.port}`;
		this.#deadline = setTimeout(
			() => this.#fail({ code: 'noAnswer', about: { where, seconds: PATIENCE_MS / 1000 } }),
			PATIENCE_MS,
		);
		[this.#socket, this.#session] = this.#open();
	}

	/** @param query answers what the host asked when it refused the connect before */
	#open(query?: string): [net.Socket, RtmpPublishSession] {
		const { host, port, secure, app } = this.#address;
		const { key, userName: user, password, reach } = this.#order;
		const { lookup } = reach;
		const socket = secure
			? tls.connect({ host, port, lookup, ...(net.isIP(host) ? {} : { servername: host }) })
			: net.connect({ host, port, lookup });
		socket.setNoDelay(true);
		// A socket that another attempt has replaced reports nothing any more.
		const ifCurrent = (act: () => void) => () => void (socket === this.#socket && act());
		socket.on('error', (error: NodeJS.ErrnoException) =>
			ifCurrent(() => this.#fail(faultOf(error, `${host}:${port}`)))(),
		);
		for (const way of ['close', 'end'])
			socket.on(
				way,
				ifCurrent(() => this.#fail({ code: 'closed', about: {} })),
			);
		socket.on('data', (bytes) => ifCurrent(() => this.#receive(bytes))());
		const session = new RtmpPublishSession(
			{
				...{ app, tcUrl: formatAddress(this.#address), key, query, inClear: this.#isInClear },
				login: user === '' ? undefined : { user, password },
			},
			randomBytes(RANDOM_BYTES),
			(bytes) => writeTogether(socket, bytes),
			(event) => this.#take(event),
		);
		return [socket, session];
	}

	#take(event: PublishEvent): void {
		// One that was ended while the host still thought about it.
		if (this.#over) return;
		if (event.kind === 'asked') return this.#answer(event.asked);
		// One that refuses and asks for no proof may want the login as it is.
		if (event.kind === 'refused' && this.#order.userName !== '' && this.#answers === 0 && !this.#isInClear) {
			this.#isInClear = true;
			return this.#again();
		}
		clearTimeout(this.#deadline);
		if (event.kind === 'refused') return this.#finish(() => this.#events.refused(event.fault));
		if (this.#configs) this.introduce(this.#configs);
		this.#events.live();
	}

	/** The host refuses until a login is proven: connects anew with what it asked for. */
	#answer(asked: 'name' | Challenge): void {
		if (++this.#answers > MOST_ANSWERS)
			return this.#finish(() => this.#events.refused({ code: 'asksOnAndOn', about: {} }));
		const { userName: user, password } = this.#order;
		this.#again(answerTo(asked, { user, password }, randomBytes(4).toString('hex'), md5));
	}

	#again(query?: string): void {
		const left = this.#socket;
		[this.#socket, this.#session] = this.#open(query);
		left.destroy();
	}

	get queueBytes(): number {
		return this.#socket.writableLength;
	}

	/** Bytes the network has taken. */
	get bytesTaken(): number {
		return this.#socket.bytesWritten - this.#socket.writableLength;
	}

	#receive(bytes: Uint8Array): void {
		try {
			this.#session.receive(bytes);
		} catch (error) {
			this.#fail({ code: 'unreadable', about: { problem: (error as Error).message } });
		}
	}

	/** Sends the stream's description and both sequence headers. */
	introduce(configs: { video: VideoConfig; audio: AudioConfig }): void {
		this.#configs = configs;
		if (this.#session.state !== 'live') return;
		const { video, audio } = configs;
		this.#session.sendMetaData(metaDataOf(video, audio));
		this.#session.sendVideo(this.#lastMs.video, avcSequenceHeader(video.description));
		this.#session.sendAudio(this.#lastMs.audio, aacSequenceHeader(audio.description));
		this.#waitingForKey = true;
	}

	send(packet: MediaPacket): void {
		if (this.#session.state !== 'live') return;
		const video = packet.kind === 'video';
		if (video && packet.key && this.queueBytes < MAX_QUEUE_BYTES / 2) {
			this.#waitingForKey = false;
			this.#begun = true;
		}
		if (this.queueBytes > MAX_QUEUE_BYTES) this.#waitingForKey = true;
		// Before the first key frame there is nothing to lose, and sound alone would come too early.
		if (!this.#begun) return;
		if (video && this.#waitingForKey) {
			this.#status.lostFrames++;
			return;
		}
		// Sound goes on while pictures are dropped, unless hardly anything gets through.
		if (!video && this.queueBytes > 2 * MAX_QUEUE_BYTES) return;
		const timestampMs = (this.#lastMs[packet.kind] = Math.round(packet.timeUs / 1000));
		if (video) this.#session.sendVideo(timestampMs, bodyOf(packet));
		else this.#session.sendAudio(timestampMs, bodyOf(packet));
	}

	/** A host that accepts no bytes for long counts as lost, even when its connection is open. */
	checkPatience(now: number): void {
		const taken = this.bytesTaken;
		if (taken > this.#lastProgress.taken || this.queueBytes === 0) this.#lastProgress = { taken, at: now };
		else if (now - this.#lastProgress.at > PATIENCE_MS)
			this.#fail({ code: 'takesNothing', about: { seconds: PATIENCE_MS / 1000 } });
	}

	#fail(fault: SendFault): void {
		this.#finish(() => this.#events.lost(fault));
	}

	#finish(report: () => void): void {
		if (this.#over) return;
		this.#over = true;
		clearTimeout(this.#deadline);
		this.#socket.destroy();
		report();
	}

	/** Breaks it without a word, as if the line were torn: somebody else goes on there. */
	cut(): void {
		this.#finish(() => {});
	}

	async end(): Promise<void> {
		if (this.#over) return;
		this.#over = true;
		clearTimeout(this.#deadline);
		this.#session.unpublish();
		const closed = new Promise((resolve) => this.#socket.once('close', resolve));
		this.#socket.end();
		await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, FAREWELL_MS))]);
		this.#socket.destroy();
	}
}

/** Hosts quote keys when they refuse them; what they say is shown, logged and stored. */
export function withoutSecrets({ code, about }: SendFault, order: PublishOrder): SendFault {
	const clean = Object.entries(about).map(([key, value]: [string, unknown]) => [
		key,
		typeof value === 'string' ? wordsWithoutSecrets(value, order) : value,
	]);
	return { code, about: Object.fromEntries(clean) as unknown } as SendFault;
}

export function wordsWithoutSecrets(words: string, { key, password, token }: PublishOrder): string {
	return [key, password, token].reduce((text, secret) => (secret ? text.replaceAll(secret, '•••') : text), words);
}

/** What is sent in one turn goes to the kernel, and over the line, as one. */
function writeTogether(socket: net.Socket, bytes: Uint8Array): void {
	if (socket.writableCorked === 0) {
		socket.cork();
		process.nextTick(() => socket.uncork());
	}
	socket.write(bytes);
}

/** Made once, however many hosts a packet goes to. */
const bodies = new WeakMap<MediaPacket, Uint8Array>();

/** A packet's FLV tag body. */
function bodyOf(packet: MediaPacket): Uint8Array {
	const known = bodies.get(packet);
	if (known) return known;
	const body = packet.kind === 'video' ? avcPicture(packet.data, packet.key) : aacFrame(packet.data);
	bodies.set(packet, body);
	return body;
}

/** What an error of the network means. */
function faultOf(error: NodeJS.ErrnoException, where: string): SendFault {
	switch (error.code) {
		case 'OUT_OF_REACH':
			return { code: 'outOfReach', about: { where } };
		case 'ENOTFOUND':
		case 'EAI_AGAIN':
			return { code: 'unknownHost', about: { where } };
		case 'ECONNREFUSED':
			return { code: 'notListening', about: { where } };
		case 'ECONNRESET':
		case 'EPIPE':
			return { code: 'broken', about: {} };
		case 'ETIMEDOUT':
		case 'EHOSTUNREACH':
		case 'ENETUNREACH':
			return { code: 'unreachable', about: { where } };
		default:
			return { code: 'failed', about: { where, problem: error.code ?? error.message } };
	}
}
