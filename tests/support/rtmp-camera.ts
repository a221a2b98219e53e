/** FFmpeg as a camera or an encoder in the network, and what a desk is handed of it. */
import { randomBytes } from 'node:crypto';
import net from 'node:net';
import { EncodedPacketSink, FilePathSource, Input, MP4 } from 'mediabunny';
import { WebSocket } from 'ws';
import { avcPicture, avcSequenceHeader } from '../../src/core/delivery/flv.ts';
import { RtmpPublishSession } from '../../src/core/delivery/rtmp/client.ts';
import { decodeFeed, type FeedPacket } from '../../src/core/ingest/feed.ts';
import { ALIVE } from '../../src/core/show/reconnect.ts';
import { ffmpeg } from './media.ts';

/**
 * Sends a moving test picture with a tone in real time.
 * @param url with the key
 * @param picture filters and encoder, such as `-vf scale=640:480 -bf 2`
 */
export function sendAsCamera(url: string, picture = '', size = '640x360', rate = '25'): ReturnType<typeof ffmpeg> {
	return ffmpeg(
		...`-re -f lavfi -i testsrc2=s=${size}:r=${rate} -f lavfi -i sine=440:r=44100`.split(' '),
		...`-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 25 ${picture}`.trim().split(/\s+/),
		...'-c:a aac -b:a 96k -ac 2 -f flv'.split(' '),
		url,
	);
}

/** The line of a desk to a camera. */
export class CameraWatch {
	readonly packets: FeedPacket[] = [];
	readonly signals: { is: string; session: string; sdp?: string }[] = [];
	/** When each packet came, milliseconds. */
	readonly cameAt: number[] = [];
	readonly socket: WebSocket;
	closed: { code: number; reason: string } | null = null;

	constructor(port: number, eventId: string, cameraId: string, lease: string) {
		this.socket = new WebSocket(`ws://127.0.0.1:${port}/camera/${eventId}?lease=${lease}&camera=${cameraId}`);
		this.socket.on('message', (data, isBinary) => {
			if (!isBinary && String(data) === ALIVE) return;
			if (!isBinary) return void this.signals.push(JSON.parse(String(data)) as never);
			this.packets.push(decodeFeed(new Uint8Array(data as Buffer)));
			this.cameAt.push(performance.now());
		});
		this.socket.on('close', (code, reason) => (this.closed = { code, reason: String(reason) }));
		this.socket.on('error', () => {});
	}

	of<K extends FeedPacket['kind']>(kind: K): Extract<FeedPacket, { kind: K }>[] {
		return this.packets.filter((packet): packet is Extract<FeedPacket, { kind: K }> => packet.kind === kind);
	}
}

/** A camera that changes the size of its picture within one connection: it sends one film after another. */
export class ChangingCamera {
	readonly #socket: net.Socket;
	#timer: NodeJS.Timeout | undefined;

	private constructor(socket: net.Socket) {
		this.#socket = socket;
	}

	/** @param films files with H.264, each of which is sent for so many seconds, over and over */
	static async send(port: number, key: string, films: readonly string[], seconds: number): Promise<ChangingCamera> {
		const packets = await Promise.all(films.map(readFilm));
		const socket = net.connect(port, '127.0.0.1');
		const camera = new ChangingCamera(socket);
		socket.on('error', () => {});
		const target = { app: 'camera', tcUrl: `rtmp://127.0.0.1:${port}/camera`, key };
		const session: RtmpPublishSession = new RtmpPublishSession(
			target,
			randomBytes(1528),
			(bytes) => void socket.write(bytes),
			({ kind }) => kind === 'live' && camera.#play(session, packets, seconds),
		);
		socket.on('data', (bytes: Buffer) => session.receive(bytes));
		return camera;
	}

	#play(session: RtmpPublishSession, films: readonly Film[], seconds: number): void {
		const begun = performance.now();
		let [film, next, beganMs] = [0, 0, 0];
		this.#timer = setInterval(() => {
			for (;;) {
				const { description, packets } = films[film]!;
				const { atMs, key, data } = packets[next]!;
				const stampMs = Math.round(beganMs + atMs);
				if (stampMs > performance.now() - begun) return;
				if (next === 0) session.sendVideo(stampMs, avcSequenceHeader(description));
				session.sendVideo(stampMs, avcPicture(data, key));
				next++;
				if (next < packets.length && packets[next]!.atMs < 1000 * seconds) continue;
				[film, next, beganMs] = [(film + 1) % films.length, 0, stampMs + 33];
			}
		}, 10);
	}

	close(): void {
		clearInterval(this.#timer);
		this.#socket.destroy();
	}
}

interface Film {
	description: Uint8Array;
	packets: { atMs: number; key: boolean; data: Uint8Array }[];
}

async function readFilm(file: string): Promise<Film> {
	const input = new Input({ source: new FilePathSource(file), formats: [MP4] });
	const track = (await input.getPrimaryVideoTrack())!;
	const config = (await track.getDecoderConfig())!;
	const packets: Film['packets'] = [];
	for await (const { timestamp, type, data } of new EncodedPacketSink(track).packets())
		packets.push({ atMs: 1000 * timestamp, key: type === 'key', data });
	input.dispose();
	return { description: new Uint8Array(config.description as ArrayBuffer), packets };
}
