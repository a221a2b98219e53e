/** FFmpeg as a camera or an encoder in the network, and what a desk is handed of it. */
import { WebSocket } from 'ws';
import { decodeFeed, type FeedPacket } from '../../src/core/ingest/feed.ts';
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
