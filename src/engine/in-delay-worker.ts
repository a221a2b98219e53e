import type { FromDelay, ToDelay } from './delay.worker.ts';
import { engineFailure } from './trouble.ts';

/** Measures a delay in a worker of its own, which is gone afterwards. */
export async function inDelayWorker(order: ToDelay): Promise<FromDelay> {
	const worker = new Worker(new URL('./delay.worker.ts', import.meta.url), { type: 'module', name: 'delay' });
	try {
		return await new Promise<FromDelay>((resolve, reject) => {
			worker.onmessage = ({ data }: MessageEvent<FromDelay>) => resolve(data);
			worker.onerror = ({ message }) => reject(engineFailure('delayNotMeasured', { problem: message }));
			worker.postMessage(order);
		});
	} finally {
		worker.terminate();
	}
}
