/**
 * The publishing side of an RTMP connection, without the connection: bytes in, bytes and events out.
 * The order is that of RTMP 1.0, section 7.2, with the releaseStream and FCPublish calls that hosts expect.
 *
 *   greeting → echoing → connecting → creating → publishing → live → ended
 *                                   ↘ refused (with the host's words)
 */
import { decodeAmf0, encodeAmf0, encodeEcmaArray, type AmfObject, type AmfValue } from '../amf0.ts';
import { concat, ProtocolError, viewOf } from '../bytes.ts';
import { saidBy, type SendFault } from '../send-fault.ts';
import { readRefusal, type Challenge, type Login } from './challenge.ts';
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

/** What to publish, and where. */
export interface PublishTarget {
	/** Application: the path of the address, as `live`. */
	app: string;
	/** The address without key or login, as `rtmp://host:1935/live`. */
	tcUrl: string;
	key: string;
	/** Proven when the host asks for a proof, so that the password stays here. */
	login?: Login | undefined;
	/** Sends the login as extra arguments of connect: for a host that has refused, and asked for no proof. */
	inClear?: boolean;
	/** Answer to what the host asked before it refused an earlier connect. */
	query?: string | undefined;
}

export type PublishEvent =
	| { kind: 'live' }
	/** With the host's code for it. */
	| { kind: 'refused'; code: string; fault: SendFault }
	/** The host wants another connect, with an answer to this. */
	| { kind: 'asked'; asked: 'name' | Challenge };

/** Large, so that a picture is a few chunks and costs few headers. */
const CHUNK_SIZE = 60_000;
const WINDOW_BYTES = 2_500_000;

type State = 'greeting' | 'echoing' | 'connecting' | 'creating' | 'publishing' | 'live' | 'refused' | 'ended';

export class RtmpPublishSession {
	#state: State = 'greeting';
	#target: PublishTarget;
	#send: (bytes: Uint8Array) => void;
	#emit: (event: PublishEvent) => void;
	#handshake = new HandshakeReader();
	#reader = new ChunkReader();
	#writer = new ChunkWriter();
	#calls = new Map<number, string>();
	#nextCall = 1;
	#streamId = 0;
	#received = 0;
	#acknowledged = 0;
	#peerWindow = 0;

	/**
	 * @param random 1528 random bytes for the handshake
	 * @param send carries bytes to the host
	 * @param emit told when the host takes the stream, and when it refuses or ends it
	 */
	constructor(
		target: PublishTarget,
		random: Uint8Array,
		send: (bytes: Uint8Array) => void,
		emit: (event: PublishEvent) => void,
	) {
		this.#target = target;
		this.#send = send;
		this.#emit = emit;
		send(hello(random));
	}

	get state(): State {
		return this.#state;
	}

	/**
	 * Takes bytes from the host.
	 * @throws ProtocolError when they are not RTMP; close the connection then.
	 */
	receive(bytes: Uint8Array): void {
		this.#received += bytes.length;
		this.#read(bytes);
		if (this.#peerWindow > 0 && this.#received - this.#acknowledged >= this.#peerWindow) {
			this.#acknowledged = this.#received;
			this.#control(controlMessage(MessageType.acknowledgement, this.#received >>> 0));
		}
	}

	#read(bytes: Uint8Array): void {
		if (this.#state === 'greeting') {
			const greeting = this.#handshake.read(bytes, 'hello');
			if (!greeting) return;
			this.#state = 'echoing';
			this.#send(greeting.block);
			return this.#read(greeting.rest);
		}
		if (this.#state === 'echoing') {
			const echo = this.#handshake.read(bytes, 'echo');
			if (!echo) return;
			this.#connect();
			return this.#read(echo.rest);
		}
		this.#reader.read(bytes, (message) => this.#take(message));
	}

	#connect(): void {
		this.#state = 'connecting';
		this.#control(controlMessage(MessageType.setChunkSize, CHUNK_SIZE));
		this.#writer.chunkSize = CHUNK_SIZE;
		const { login, query, inClear = false } = this.#target;
		const behind = query === undefined ? '' : `?${query}`;
		const [app, tcUrl] = [this.#target.app + behind, this.#target.tcUrl + behind];
		const about = { app, type: 'nonprivate', flashVer: 'FMLE/3.0 (compatible; Bivvo/0.1)', tcUrl };
		this.#call('connect', about, ...(login && inClear ? [login.user, login.password] : []));
	}

	#take(message: RtmpMessage): void {
		const { type, body } = message;
		if (type === MessageType.windowAckSize && body.length >= 4) this.#peerWindow = viewOf(body).getUint32(0);
		else if (type === MessageType.setPeerBandwidth)
			this.#control(controlMessage(MessageType.windowAckSize, WINDOW_BYTES));
		else if (type === MessageType.userControl && body.length >= 6) this.#handleUserControl(body);
		else if (type === MessageType.commandAmf0) this.#handleCommand(decodeAmf0(body));
	}

	#handleUserControl(body: Uint8Array): void {
		const view = viewOf(body);
		if (view.getUint16(0) === UserControl.pingRequest)
			this.#control(userControlMessage(UserControl.pingResponse, view.getUint32(2)));
	}

	#handleCommand([name, call, , info]: AmfValue[]): void {
		if (name === 'onStatus') return this.#handleStatus(info);
		if (name === 'close') return this.#refuse('NetConnection.Close', { code: 'closed', about: {} });
		const asked = typeof call === 'number' ? this.#calls.get(call) : undefined;
		if (!asked) return;
		this.#calls.delete(call as number);
		if (name === '_error') {
			// Many hosts do not know releaseStream and FCPublish; only these two answers matter.
			if (asked === 'connect' && this.#isAsked(info)) return;
			if (asked === 'connect' || asked === 'createStream') this.#refuseWith(info, asked);
		} else if (name === '_result' && asked === 'connect') {
			this.#state = 'creating';
			this.#call('releaseStream', null, this.#target.key);
			this.#call('FCPublish', null, this.#target.key);
			this.#call('createStream', null);
		} else if (name === '_result' && asked === 'createStream') {
			if (typeof info !== 'number') throw new ProtocolError('The host answered createStream without a stream id');
			this.#streamId = info;
			this.#state = 'publishing';
			this.#call('publish', null, this.#target.key, 'live');
		}
	}

	#handleStatus(info: AmfValue): void {
		const status = isObject(info) ? info : {};
		const code = String(status.code ?? '');
		if (code === 'NetStream.Publish.Start') {
			this.#state = 'live';
			this.#emit({ kind: 'live' });
		} else if (status.level === 'error') {
			this.#refuseWith(info, 'publish');
		}
	}

	/** True when the host refuses only until a login is proven. */
	#isAsked(info: AmfValue): boolean {
		const description = isObject(info) && typeof info.description === 'string' ? info.description : '';
		const asked = readRefusal(description);
		if (asked === null) return false;
		if (asked === 'failed' || !this.#target.login) {
			const code = asked === 'failed' ? 'loginWrong' : 'loginWanted';
			this.#refuse('NetConnection.Connect.Rejected', { code, about: {} });
		} else {
			this.#state = 'refused';
			this.#emit({ kind: 'asked', asked });
		}
		return true;
	}

	#refuseWith(info: AmfValue, asked: string): void {
		const status = isObject(info) ? info : {};
		this.#refuse(String(status.code ?? ''), saidBy(status.description, asked));
	}

	#refuse(code: string, fault: SendFault): void {
		if (this.#state === 'refused' || this.#state === 'ended') return;
		this.#state = 'refused';
		this.#emit({ kind: 'refused', code, fault });
	}

	/** Size, rates and codecs of the stream, before its first packet. */
	sendMetaData(metaData: AmfObject): void {
		const body = concat([encodeAmf0('@setDataFrame', 'onMetaData'), encodeEcmaArray(metaData)]);
		this.#media(ChunkStream.data, MessageType.dataAmf0, 0, body);
	}

	/** One FLV video tag body. */
	sendVideo(timestampMs: number, body: Uint8Array): void {
		this.#media(ChunkStream.video, MessageType.video, timestampMs, body);
	}

	/** One FLV audio tag body. */
	sendAudio(timestampMs: number, body: Uint8Array): void {
		this.#media(ChunkStream.audio, MessageType.audio, timestampMs, body);
	}

	/** Ends the stream in good order; the caller closes the connection when these bytes are out. */
	unpublish(): void {
		if (this.#streamId > 0 && (this.#state === 'live' || this.#state === 'publishing')) {
			this.#call('FCUnpublish', null, this.#target.key);
			this.#call('deleteStream', null, this.#streamId);
		}
		this.#state = 'ended';
	}

	#media(csid: number, type: number, timestampMs: number, body: Uint8Array): void {
		if (this.#state !== 'live') throw new Error(`Nothing can be sent while the RTMP session is ${this.#state}`);
		this.#send(this.#writer.write(csid, { type, streamId: this.#streamId, timestampMs, body }));
	}

	#call(name: string, ...values: AmfValue[]): void {
		const call = this.#nextCall++;
		this.#calls.set(call, name);
		const body = encodeAmf0(name, call, ...values);
		const streamId = name === 'publish' ? this.#streamId : 0;
		this.#send(
			this.#writer.write(ChunkStream.command, { type: MessageType.commandAmf0, streamId, timestampMs: 0, body }),
		);
	}

	#control(message: RtmpMessage): void {
		this.#send(this.#writer.write(ChunkStream.control, message));
	}
}

function isObject(value: AmfValue): value is AmfObject {
	return typeof value === 'object' && value !== null && !Array.isArray(value) && !(value instanceof Date);
}
