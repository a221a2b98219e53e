/**
 * The receiving side of an RTMP connection, without the connection: what a host does with a publisher.
 * Used by the stand-in host, and by tests as the peer of the publishing side.
 */
import { decodeAmf0, encodeAmf0, type AmfObject, type AmfValue } from '../amf0.ts';
import { viewOf } from '../bytes.ts';
import type { Challenger, Login } from './challenge.ts';
import { ChunkReader, ChunkWriter } from './chunks.ts';
import { HandshakeReader, hello } from './handshake.ts';
import {
	ChunkStream,
	controlMessage,
	MessageType,
	UserControl,
	userControlMessage,
	type RtmpMessage,
} from './messages.ts';

/** Who wants to publish what. */
export interface PublishRequest {
	app: string;
	key: string;
	login: Login | null;
}

export type IngestEvent =
	| { kind: 'metadata'; metaData: AmfObject }
	| { kind: 'video' | 'audio'; timestampMs: number; body: Uint8Array }
	| { kind: 'unpublished' };

/** A refusal in the form of section 7.2.2: a status code and words for people. */
export interface Refusal {
	code: string;
	description: string;
}

/** Applications whose publishers must prove that they know a password. */
export interface Logins {
	loginOf(app: string): Login | null;
	challenger: Challenger;
}

const CHUNK_SIZE = 4096;
const WINDOW_BYTES = 1_000_000;
const STREAM_ID = 1;

export class RtmpIngestSession {
	#phase: 'greeting' | 'echoing' | 'open' | 'publishing' | 'over' = 'greeting';
	#send: (bytes: Uint8Array) => void;
	#admit: (request: PublishRequest) => Refusal | null;
	#emit: (event: IngestEvent) => void;
	#logins: Logins | null;
	#random: Uint8Array;
	#handshake = new HandshakeReader();
	#reader = new ChunkReader();
	#writer = new ChunkWriter();
	#app = '';
	#login: PublishRequest['login'] = null;
	#received = 0;
	#acknowledged = 0;
	/** The publisher's last acknowledgement and ping response, for tests and statistics. */
	readonly seen = { acknowledgedBytes: 0, pingAnswer: -1, windowBytes: 0 };

	/**
	 * @param random 1528 random bytes for the handshake
	 * @param admit decides about a publisher: null lets it in, else the refusal it is told
	 * @param logins where passwords are to be proven; null where nobody asks for that
	 */
	constructor(
		random: Uint8Array,
		send: (bytes: Uint8Array) => void,
		admit: (request: PublishRequest) => Refusal | null,
		emit: (event: IngestEvent) => void,
		logins: Logins | null = null,
	) {
		this.#random = random;
		this.#send = send;
		this.#admit = admit;
		this.#emit = emit;
		this.#logins = logins;
	}

	/** True once the publisher was refused or left. */
	get over(): boolean {
		return this.#phase === 'over';
	}

	/** @throws ProtocolError when the bytes are not RTMP; close the connection then. */
	receive(bytes: Uint8Array): void {
		this.#received += bytes.length;
		this.#read(bytes);
		if (this.#received - this.#acknowledged >= WINDOW_BYTES) {
			this.#acknowledged = this.#received;
			this.#control(controlMessage(MessageType.acknowledgement, this.#received >>> 0));
		}
	}

	#read(bytes: Uint8Array): void {
		if (this.#phase === 'greeting') {
			const greeting = this.#handshake.read(bytes, 'hello');
			if (!greeting) return;
			this.#phase = 'echoing';
			this.#send(hello(this.#random));
			this.#send(greeting.block);
			return this.#read(greeting.rest);
		}
		if (this.#phase === 'echoing') {
			const echo = this.#handshake.read(bytes, 'echo');
			if (!echo) return;
			this.#phase = 'open';
			return this.#read(echo.rest);
		}
		this.#reader.read(bytes, (message) => this.#take(message));
	}

	#take(message: RtmpMessage): void {
		if (this.#phase === 'over') return;
		const { type, body, timestampMs } = message;
		if (type === MessageType.commandAmf0) this.#handleCommand(decodeAmf0(body));
		else if (type === MessageType.acknowledgement && body.length >= 4)
			this.seen.acknowledgedBytes = viewOf(body).getUint32(0);
		else if (type === MessageType.windowAckSize && body.length >= 4) this.seen.windowBytes = viewOf(body).getUint32(0);
		else if (type === MessageType.userControl && body.length >= 6) {
			if (viewOf(body).getUint16(0) === UserControl.pingResponse) this.seen.pingAnswer = viewOf(body).getUint32(2);
		} else if (this.#phase === 'publishing') {
			if (type === MessageType.video) this.#emit({ kind: 'video', timestampMs, body });
			else if (type === MessageType.audio) this.#emit({ kind: 'audio', timestampMs, body });
			else if (type === MessageType.dataAmf0) this.#handleData(decodeAmf0(body));
		}
	}

	#handleData(values: AmfValue[]): void {
		const at = values.indexOf('onMetaData');
		const metaData = values[at + 1];
		if (at >= 0 && typeof metaData === 'object' && metaData !== null && !Array.isArray(metaData))
			this.#emit({ kind: 'metadata', metaData: metaData as AmfObject });
	}

	#handleCommand([name, call, about, ...values]: AmfValue[]): void {
		if (typeof call !== 'number') return;
		if (name === 'connect') this.#handleConnect(call, about, values);
		else if (name === 'createStream') this.#answer('_result', call, null, STREAM_ID);
		else if (name === 'releaseStream') this.#answer('_result', call, null, undefined);
		else if (name === 'FCPublish') this.#answer('onFCPublish', 0, null, { code: 'NetStream.Publish.Start' });
		else if (name === 'publish') this.#handlePublish(String(values[0] ?? ''));
		else if (name === 'FCUnpublish' || name === 'deleteStream' || name === 'closeStream') this.#leave();
	}

	#handleConnect(call: number, about: AmfValue, [user, password]: AmfValue[]): void {
		const path = typeof about === 'object' && about !== null ? String((about as AmfObject).app ?? '') : '';
		const [app = '', query = ''] = path.split('?', 2);
		this.#app = app;
		if (typeof user === 'string') this.#login = { user, password: typeof password === 'string' ? password : '' };
		this.#control(controlMessage(MessageType.windowAckSize, WINDOW_BYTES));
		this.#control(controlMessage(MessageType.setPeerBandwidth, WINDOW_BYTES));
		this.#control(controlMessage(MessageType.setChunkSize, CHUNK_SIZE));
		this.#writer.chunkSize = CHUNK_SIZE;
		const login = this.#logins?.loginOf(app);
		const asks = login && this.#logins!.challenger.judge(query, login);
		if (asks) {
			this.#answer('_error', call, null, { level: 'error', code: 'NetConnection.Connect.Rejected', description: asks });
			this.#phase = 'over';
			return;
		}
		if (login) this.#login = login;
		const status = {
			level: 'status',
			code: 'NetConnection.Connect.Success',
			description: 'Connection accepted.',
			objectEncoding: 0,
		};
		this.#answer('_result', call, { fmsVer: 'FMS/3,0,1,123', capabilities: 31 }, status);
	}

	#handlePublish(key: string): void {
		const refusal = this.#admit({ app: this.#app, key, login: this.#login });
		if (refusal) return this.refuse(refusal);
		this.#phase = 'publishing';
		this.#control(userControlMessage(UserControl.streamBegin, STREAM_ID));
		this.#status('status', 'NetStream.Publish.Start', 'The stream is being received.');
	}

	#leave(): void {
		if (this.#phase !== 'publishing') return;
		this.#status('status', 'NetStream.Unpublish.Success', 'The stream has ended.');
		this.#phase = 'over';
		this.#emit({ kind: 'unpublished' });
	}

	/** Sends the publisher the reason why it may not go on; the caller closes the connection afterwards. */
	refuse({ code, description }: Refusal): void {
		this.#status('error', code, description);
		this.#phase = 'over';
	}

	/** Asks the publisher to answer with `timeMs` (section 7.1.7). */
	ping(timeMs: number): void {
		this.#control(userControlMessage(UserControl.pingRequest, timeMs));
	}

	#status(level: string, code: string, description: string): void {
		this.#answer('onStatus', 0, null, { level, code, description });
	}

	#answer(name: string, call: number, ...values: AmfValue[]): void {
		const streamId = name === 'onStatus' ? STREAM_ID : 0;
		const body = encodeAmf0(name, call, ...values);
		this.#send(
			this.#writer.write(ChunkStream.command, { type: MessageType.commandAmf0, streamId, timestampMs: 0, body }),
		);
	}

	#control(message: RtmpMessage): void {
		this.#send(this.#writer.write(ChunkStream.control, message));
	}
}
