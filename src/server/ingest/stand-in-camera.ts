/** The stand-in camera *Tower door*: a file that is sent by RTMP over and over, as a camera of the venue would. */
import { randomBytes } from 'node:crypto';
import net from 'node:net';
import { EncodedPacketSink, FilePathSource, Input, MP4, type EncodedPacket } from 'mediabunny';
import { aacFrame, aacSequenceHeader, avcPicture, avcSequenceHeader } from '../../core/delivery/flv.ts';
import { RtmpPublishSession } from '../../core/delivery/rtmp/client.ts';
import { RANDOM_BYTES } from '../../core/delivery/rtmp/handshake.ts';
import { log } from '../log.ts';

const RECONNECT_MS = 1000;
const STEP_MS = 10;

interface Packets {
	description: Uint8Array;
	audioConfig: Uint8Array;
	/** Both kinds in the order in which they are sent. */
	all: { isVideo: boolean; atMs: number; key: boolean; data: Uint8Array }[];
	lengthMs: number;
}

/** @throws when the file is none with H.264 and AAC */
async function readPackets(file: string): Promise<Packets> {
	const input = new Input({ source: new FilePathSource(file), formats: [MP4] });
	try {
		const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
		const [videoConfig, audioConfig] = [await video?.getDecoderConfig(), await audio?.getDecoderConfig()];
		if (!video || !audio || !videoConfig?.description || !audioConfig?.description)
			throw new Error(`${file} has no picture or no sound`);
		const packet = (isVideo: boolean) => (each: EncodedPacket) => ({
			isVideo,
			atMs: each.timestamp * 1000,
			key: each.type === 'key',
			data: each.data,
		});
		const all: Packets['all'] = [];
		for await (const each of new EncodedPacketSink(video).packets()) all.push(packet(true)(each));
		for await (const each of new EncodedPacketSink(audio).packets()) all.push(packet(false)(each));
		return {
			description: bytesOf(videoConfig.description),
			audioConfig: bytesOf(audioConfig.description),
			all: all.filter(({ atMs }) => atMs >= 0).sort((a, b) => a.atMs - b.atMs),
			lengthMs: (await video.computeDuration()) * 1000,
		};
	} finally {
		input.dispose();
	}
}

function bytesOf(source: AllowSharedBufferSource): Uint8Array {
	return ArrayBuffer.isView(source)
		? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
		: new Uint8Array(source);
}

export class StandInCamera {
	#socket: net.Socket | null = null;
	#timer: NodeJS.Timeout | undefined;
	#isStopped = false;

	/** @param port of this machine, where cameras connect */
	constructor(file: string, port: number, key: string) {
		readPackets(file).then(
			(packets) => this.#connect(packets, port, key),
			(error: unknown) => log.warn({ err: error }, 'The stand-in camera cannot be read'),
		);
	}

	#connect(packets: Packets, port: number, key: string): void {
		if (this.#isStopped) return;
		const socket = (this.#socket = net.connect({ host: '127.0.0.1', port }));
		socket.setNoDelay(true);
		const target = { app: 'camera', tcUrl: `rtmp://127.0.0.1:${port}/camera`, key };
		const session = new RtmpPublishSession(
			target,
			randomBytes(RANDOM_BYTES),
			(bytes) => void socket.write(bytes),
			({ kind }) => (kind === 'live' ? this.#send(session, packets) : socket.destroy()),
		);
		socket.on('data', (bytes: Buffer) => {
			try {
				session.receive(bytes);
			} catch {
				socket.destroy();
			}
		});
		socket.on('error', () => socket.destroy());
		socket.once('close', () => {
			clearInterval(this.#timer);
			if (!this.#isStopped) this.#timer = setTimeout(() => this.#connect(packets, port, key), RECONNECT_MS);
		});
	}

	#send(session: RtmpPublishSession, { description, audioConfig, all, lengthMs }: Packets): void {
		session.sendVideo(0, avcSequenceHeader(description));
		session.sendAudio(0, aacSequenceHeader(audioConfig));
		const begun = performance.now();
		let [round, next] = [0, 0];
		this.#timer = setInterval(() => {
			for (;;) {
				const { isVideo, atMs, key, data } = all[next]!;
				const stampMs = Math.round(round * lengthMs + atMs);
				if (stampMs > performance.now() - begun || session.state !== 'live') return;
				if (isVideo) session.sendVideo(stampMs, avcPicture(data, key));
				else session.sendAudio(stampMs, aacFrame(data));
				next = (next + 1) % all.length;
				if (next === 0) round++;
			}
		}, STEP_MS);
	}

	stop(): void {
		this.#isStopped = true;
		clearTimeout(this.#timer);
		clearInterval(this.#timer);
		this.#socket?.destroy();
	}
}
