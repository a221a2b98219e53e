/** Work on recordings in a worker of its own, which ends when it is done or no longer wanted. */
import { recordings as words } from '../words/index.ts';
import type { FromMedia, ToMedia } from './media.worker.ts';

export interface MediaJob {
	/** The file that was made, or null when there was none to make. @throws with a sentence; never when cancelled */
	file: Promise<Blob | null>;
	cancel(): void;
}

/** @param hear told everything on the way */
export function startJob(order: ToMedia, hear: (message: FromMedia) => void): MediaJob {
	const worker = new Worker(new URL('./media.worker.ts', import.meta.url), { type: 'module', name: 'media' });
	const { promise, resolve, reject } = Promise.withResolvers<Blob | null>();
	let file: Blob | null = null;
	worker.onmessage = ({ data }: MessageEvent<FromMedia>) => {
		if (data.type === 'file') file = data.file;
		else if (data.type === 'failed') reject(new Error(data.reason));
		else if (data.type === 'done') resolve(file);
		else hear(data);
	};
	worker.onerror = ({ message }) => reject(new Error(message || words.unreadable));
	void promise.catch(() => {}).finally(() => worker.terminate());
	worker.postMessage(order);
	return { file: promise, cancel: () => worker.terminate() };
}
