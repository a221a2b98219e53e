/** Uploads by the tus protocol, version 1.0.0: they go on after a broken line, a reload or a restart. */
import { Upload, type UploadOptions } from 'tus-js-client';

/** Sent in pieces of this size: what has been taken of it is not sent again after a broken line. */
const CHUNK_BYTES = 8e6;
/** Waits before each further attempt; the last one stands for all that follow. */
const RETRY_MS = [0, 1000, 3000, 5000, 10_000, 10_000, 30_000, 30_000, 60_000, 60_000];

export interface Resumable {
	/** Id of what was sent; null when it was stopped. Rejects with what the server said, or `unsent`. */
	done: Promise<string | null>;
	/** @param forget false when it is to go on another time */
	stop(forget: boolean): void;
}

/**
 * Sends a file; one that was begun before goes on where it was.
 * @param on.sent part of it that was taken, 0 to 1
 * @param on.waits called when the line is broken and tried again
 * @param unsent says that the server was not reached
 */
export function sendResumably(
	file: File,
	options: Pick<UploadOptions, 'endpoint' | 'metadata' | 'fingerprint'>,
	on: { sent(part: number): void; waits(): void },
	unsent: string,
): Resumable {
	let resolve: (id: string | null) => void = () => {};
	let reject: (error: Error) => void = () => {};
	const done = new Promise<string | null>((...settle) => ([resolve, reject] = settle));
	let stopped = false;
	const upload = new Upload(file, {
		...options,
		chunkSize: CHUNK_BYTES,
		retryDelays: RETRY_MS,
		removeFingerprintOnSuccess: true,
		onProgress: (taken, all) => on.sent(all === null ? 0 : taken / all),
		onShouldRetry(error) {
			const status = error.originalResponse?.getStatus() ?? 0;
			const isWorth = status === 0 || status >= 500 ? status !== 507 : status === 409 || status === 423;
			if (isWorth) on.waits();
			return isWorth;
		},
		onError: (error) => reject(new Error(reasonOf(error) ?? unsent)),
		onSuccess: () => resolve(upload.url!.split('/').at(-1)!),
	});
	upload
		.findPreviousUploads()
		.then(([previous]) => {
			if (stopped) return;
			if (previous) upload.resumeFromPreviousUpload(previous);
			upload.start();
		})
		.catch(reject);
	return {
		done,
		stop(forget) {
			stopped = true;
			void upload.abort(forget);
			resolve(null);
		},
	};
}

/** What the server said, if it was reached. */
function reasonOf({ originalResponse }: Error & { originalResponse?: { getBody(): string } | null }): string | null {
	const body = originalResponse?.getBody()?.trim() ?? '';
	try {
		return (JSON.parse(body) as { message?: string }).message ?? null;
	} catch {
		return body || null;
	}
}
