/** Writes the program, or a picture alone, to a fragmented MP4: each finished fragment is on disk and playable, whatever comes after. */
import { open, type FileHandle } from 'node:fs/promises';
import {
	AppendOnlyStreamTarget,
	EncodedAudioPacketSource,
	EncodedPacket,
	EncodedVideoPacketSource,
	Mp4OutputFormat,
	Output,
} from 'mediabunny';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';

/** One fragment a second: what a power cut may cost. */
const FRAGMENT_S = 1;

export class Recorder {
	readonly file: string;
	bytes = 0;
	#output: Output;
	#handle: FileHandle;
	#video = new EncodedVideoPacketSource('avc');
	#frameS: number;
	#videoMeta: EncodedVideoChunkMetadata;
	/** Null for a picture without sound. */
	#audio: { source: EncodedAudioPacketSource; frameS: number; meta: EncodedAudioChunkMetadata } | null;
	#queue: Promise<unknown> = Promise.resolve();
	#failed: (error: Error) => void;
	#broken = false;

	/**
	 * Opens the file and begins it.
	 * @param failed told once when the file can no longer be written
	 * @throws when the file cannot be made
	 */
	static async begin(
		file: string,
		video: VideoConfig,
		audio: AudioConfig | null,
		failed: (error: Error) => void,
	): Promise<Recorder> {
		const handle = await open(file, 'wx', 0o640);
		const recorder = new Recorder(file, handle, video, audio, failed);
		await recorder.#output.start();
		return recorder;
	}

	private constructor(
		file: string,
		handle: FileHandle,
		video: VideoConfig,
		audio: AudioConfig | null,
		failed: (error: Error) => void,
	) {
		this.file = file;
		this.#handle = handle;
		this.#failed = failed;
		const writable = new WritableStream<Uint8Array>({
			write: async (bytes) => {
				await handle.writeFile(bytes);
				this.bytes += bytes.length;
			},
		});
		this.#output = new Output({
			format: new Mp4OutputFormat({ fastStart: 'fragmented', minimumFragmentDuration: FRAGMENT_S }),
			target: new AppendOnlyStreamTarget(writable),
		});
		// Told a pace, it would move pictures onto it; after a desk has come back they lie beside it.
		this.#output.addVideoTrack(this.#video);
		this.#frameS = 1 / video.fps;
		this.#videoMeta = {
			decoderConfig: {
				codec: codecOf(video.description),
				codedWidth: video.width,
				codedHeight: video.height,
				description: video.description,
				colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
			},
		};
		this.#audio = audio && soundOf(audio);
		if (this.#audio) this.#output.addAudioTrack(this.#audio.source);
	}

	/** Adds a packet; its time is on the broadcast's line. */
	write(packet: MediaPacket): void {
		if (this.#broken) return;
		this.#queue = this.#queue.then(() => this.#add(packet)).catch((error: unknown) => this.#break(error as Error));
	}

	#add({ kind, key, data, timeUs }: MediaPacket): Promise<void> {
		const seconds = timeUs / 1e6;
		if (kind === 'video') {
			const packet = new EncodedPacket(data, key ? 'key' : 'delta', seconds, this.#frameS);
			return this.#video.add(packet, this.#videoMeta);
		}
		if (!this.#audio) return Promise.resolve();
		const { source, frameS, meta } = this.#audio;
		return source.add(new EncodedPacket(data, 'key', seconds, frameS), meta);
	}

	#break(error: Error): void {
		if (this.#broken) return;
		this.#broken = true;
		this.#failed(error);
	}

	/** Writes what is left and closes the file. */
	async end(): Promise<void> {
		await this.#queue;
		try {
			if (!this.#broken) await this.#output.finalize();
		} catch (error) {
			this.#break(error as Error);
		} finally {
			await this.#handle.close().catch(() => {});
		}
	}
}

function soundOf({ sampleRate, channels, description }: AudioConfig) {
	const decoderConfig = { codec: 'mp4a.40.2', sampleRate, numberOfChannels: channels, description };
	return { source: new EncodedAudioPacketSource('aac'), frameS: 1024 / sampleRate, meta: { decoderConfig } };
}

/** RFC 6381 name of an AVCDecoderConfigurationRecord: profile, compatibility and level in hexadecimal. */
function codecOf(description: Uint8Array): string {
	return `avc1.${Buffer.from(description.subarray(1, 4)).toString('hex')}`;
}
