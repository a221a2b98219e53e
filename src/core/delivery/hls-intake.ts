/** Puts the media of one RTMP publisher on a shelf as HLS, once its configurations are there. */
import { parseAudioTag, parseVideoTag } from './flv.ts';
import type { HlsShelf, HlsWriter } from './hls.ts';
import type { IngestEvent } from './rtmp/server.ts';

export class HlsIntake {
	#shelf: HlsShelf;
	#onDamaged: (problem: string) => void;
	#writer: HlsWriter | null = null;
	#videoConfig: Uint8Array | null = null;
	#audioConfig: Uint8Array | null = null;
	#size = { width: 0, height: 0 };

	/** @param onDamaged called when the stream cannot be put on the shelf */
	constructor(shelf: HlsShelf, onDamaged: (problem: string) => void) {
		this.#shelf = shelf;
		this.#onDamaged = onDamaged;
	}

	/** Size of the picture in pixels, as the stream's metadata has it; 0 while it is not known. */
	get size(): Readonly<{ width: number; height: number }> {
		return this.#size;
	}

	/**
	 * @returns what came: a key frame, another frame, a frame of sound, or nothing that is shown or heard
	 * @throws ProtocolError when a tag is truncated or of another codec than H.264 or AAC
	 */
	add(event: IngestEvent): 'key' | 'delta' | 'sound' | null {
		if (event.kind === 'metadata') {
			this.#size = { width: Number(event.metaData.width) || 0, height: Number(event.metaData.height) || 0 };
			return null;
		}
		if (event.kind === 'unpublished') return null;
		if (event.kind === 'video') {
			const tag = parseVideoTag(event.body);
			if (tag.kind === 'config') {
				this.#videoConfig = tag.description.slice();
				this.#open();
			}
			if (tag.kind !== 'picture') return null;
			this.#watch(this.#writer?.addPicture(tag.data.slice(), tag.key, event.timestampMs));
			return tag.key ? 'key' : 'delta';
		}
		const tag = parseAudioTag(event.body);
		if (tag.kind === 'config') {
			this.#audioConfig = tag.data.slice();
			this.#open();
			return null;
		}
		this.#watch(this.#writer?.addSound(tag.data.slice(), event.timestampMs));
		return 'sound';
	}

	/** @param isOver true when the publisher said so, false when its connection broke */
	async end(isOver: boolean): Promise<void> {
		await this.#writer?.end().then(
			() => (this.#shelf.ended = isOver),
			() => undefined,
		);
	}

	#open(): void {
		if (this.#writer || !this.#videoConfig || !this.#audioConfig) return;
		this.#writer = this.#shelf.begin(this.#videoConfig, this.#size, this.#audioConfig);
	}

	#watch(added: Promise<unknown> | undefined): void {
		added?.catch((error: unknown) => {
			this.#writer = null;
			this.#onDamaged((error as Error).message);
		});
	}
}
