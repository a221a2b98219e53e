/** Looks over the shoulder of the desk's own encoder: when pictures come out of it, and what goes in. */
import type { Page } from '@playwright/test';
import { until } from '../tests/support/app.ts';

declare global {
	/** Time stamp in microseconds, moment and bytes of each encoded picture. */
	var encodedPictures: Encoded[];
	/** Pictures that are still to be kept, and where. */
	var keeping: { left: number; file: SyncFile; done: () => void } | null;
}
/** A file of the browser's own, as workers may write to it. */
interface SyncFile {
	write(bytes: Uint8Array, options: { at: number }): number;
	getSize(): number;
	truncate(size: number): void;
	close(): void;
}
export type Encoded = [timeUs: number, at: number, bytes: number];

/** Name of the file, among those of the browser's own, that pictures are kept in: I420, one after another. */
export const KEPT = 'kept-pictures';

export interface EncoderWatch {
	/** What came out so far. */
	encoded(): Promise<Encoded[]>;
	/** Keeps the next pictures that go in, for whoever of the same browser context wants to encode them as well. */
	keep(count: number): Promise<void>;
}

/**
 * Call before the broadcast begins.
 * @param ofHeight of the pictures that are looked at: small ones for those who watch are encoded beside them
 */
export async function watchEncoder(page: Page, ofHeight: number): Promise<EncoderWatch> {
	const worker = await until('the picture worker', () =>
		page.workers().find((each) => each.url().includes('picture.worker')),
	);
	await worker.evaluate((lines) => {
		globalThis.encodedPictures = [];
		globalThis.keeping = null;
		const Original = VideoEncoder;
		const lookedAt = new WeakSet<VideoEncoder>();
		globalThis.VideoEncoder = class extends Original {
			constructor({ output, error }: VideoEncoderInit) {
				const made: { encoder: VideoEncoder | null } = { encoder: null };
				super({
					error,
					output(chunk, metadata) {
						if (lookedAt.has(made.encoder!))
							encodedPictures.push([chunk.timestamp, performance.timeOrigin + performance.now(), chunk.byteLength]);
						output(chunk, metadata);
					},
				});
				made.encoder = this;
			}
			override configure(config: VideoEncoderConfig): void {
				if (config.height === lines) lookedAt.add(this);
				super.configure(config);
			}
			override encode(frame: VideoFrame, options?: VideoEncoderEncodeOptions): void {
				const kept = globalThis.keeping;
				if (kept && lookedAt.has(this) && kept.left-- > 0) {
					const { width, height } = frame.visibleRect!;
					const bytes = new Uint8Array((width * height * 3) / 2);
					const layout = [
						{ offset: 0, stride: width },
						{ offset: width * height, stride: width / 2 },
						{ offset: (width * height * 5) / 4, stride: width / 2 },
					];
					const copy = frame.clone();
					void copy.copyTo(bytes, { layout }).then(() => {
						copy.close();
						kept.file.write(bytes, { at: kept.file.getSize() });
						if (kept.left <= 0) kept.done();
					});
				}
				super.encode(frame, options);
			}
		};
	}, ofHeight);
	return {
		encoded: () => worker.evaluate(() => globalThis.encodedPictures),
		keep: (count) =>
			worker.evaluate(
				async ([name, left]) => {
					const root = await navigator.storage.getDirectory();
					const handle = await root.getFileHandle(name, { create: true });
					const file = await (
						handle as unknown as { createSyncAccessHandle(): Promise<SyncFile> }
					).createSyncAccessHandle();
					file.truncate(0);
					await new Promise<void>((done) => (globalThis.keeping = { left, file, done }));
					globalThis.keeping = null;
					file.close();
				},
				[KEPT, count] as const,
			),
	};
}

/** Pictures of one size in bytes that follow each other this closely could be taken for one another. */
const MOST_BETWEEN = 60;

/**
 * When each picture that a host got came out of the encoder, milliseconds since 1970; NaN for one that is not found.
 * Both lists are in order, and a picture is known by its size in bytes: time stamps are rounded on their way.
 */
export function encodedTimes(pictures: readonly { bytes: number }[], encoded: readonly Encoded[]): number[] {
	let next = 0;
	return pictures.map(({ bytes }, i) => {
		const last = i === 0 ? encoded.length : Math.min(encoded.length, next + MOST_BETWEEN);
		for (let k = next; k < last; k++) {
			if (encoded[k]![2] !== bytes) continue;
			next = k + 1;
			return encoded[k]![1];
		}
		if (i === 0) throw new Error('The first picture at the host is none that was encoded');
		return NaN;
	});
}
