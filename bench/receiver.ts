/** A host of the bench's own: takes one stream by RTMP, notes when each picture came, keeps it as a file. */
import { randomBytes } from 'node:crypto';
import { createWriteStream, type WriteStream } from 'node:fs';
import { once } from 'node:events';
import net, { type AddressInfo } from 'node:net';
import { flvFileHeader, flvFileTag, parseVideoTag } from '../src/core/delivery/flv.ts';
import { MessageType } from '../src/core/delivery/rtmp/messages.ts';
import { RtmpIngestSession } from '../src/core/delivery/rtmp/server.ts';

export class Receiver {
	/** Pictures in order: time stamp, size, and when they came in milliseconds since 1970. */
	readonly pictures: { timestampMs: number; arrivedAt: number; bytes: number }[] = [];
	#server: net.Server;
	#file: WriteStream;

	constructor(file: string) {
		this.#file = createWriteStream(file);
		this.#file.write(flvFileHeader());
		this.#server = net.createServer((socket) => this.#take(socket));
	}

	async listen(): Promise<number> {
		await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
		return (this.#server.address() as AddressInfo).port;
	}

	#take(socket: net.Socket): void {
		const session: RtmpIngestSession = new RtmpIngestSession(
			randomBytes(1528),
			(bytes) => void socket.write(bytes),
			() => null,
			(event) => {
				if (event.kind === 'unpublished') return void socket.end();
				if (event.kind === 'metadata') return;
				const { timestampMs, body } = event;
				const type = event.kind === 'video' ? MessageType.video : MessageType.audio;
				this.#file.write(flvFileTag(type, timestampMs, body));
				const tag = event.kind === 'video' ? parseVideoTag(body) : null;
				if (tag?.kind === 'picture') {
					const arrivedAt = performance.timeOrigin + performance.now();
					this.pictures.push({ timestampMs, arrivedAt, bytes: tag.data.length });
				}
			},
		);
		socket.setNoDelay(true);
		socket.on('data', (bytes) => session.receive(bytes));
		socket.on('error', () => socket.destroy());
	}

	async close(): Promise<void> {
		this.#server.close();
		this.#file.end();
		await once(this.#file, 'finish');
	}
}
