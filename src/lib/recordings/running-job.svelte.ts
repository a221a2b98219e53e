/** A job of the worker as a component shows it. */
import { recordings as words } from '../words/index.ts';
import { startJob, type MediaJob } from './media.ts';

export class RunningJob {
	/** '' while none runs. */
	what = $state('');
	/** Part that is done, 0 to 1. */
	part = $state(0);
	problem = $state('');
	#job: MediaJob | null = null;
	#stop = () => {};

	/** @returns the file that was made; null when it was cancelled, or failed, which is said */
	async run(what: string, order: Parameters<typeof startJob>[0]): Promise<Blob | null> {
		this.what = what;
		this.part = 0;
		this.problem = '';
		const cancelled = new Promise<null>((resolve) => (this.#stop = () => resolve(null)));
		this.#job = startJob(order, (message) => message.type === 'progress' && (this.part = message.part));
		const file = await Promise.race([this.#job.file, cancelled]).catch((error: Error) => {
			this.problem = words.failed(what.replace('…', ''), error.message);
			return null;
		});
		this.#job = null;
		this.what = '';
		return file;
	}

	cancel(): void {
		this.#job?.cancel();
		this.#stop();
	}
}
