/* eslint-disable svelte/prefer-svelte-reactivity -- what is computed is not shown, and addresses never change */
/** The organisation's media library as a page works with it: the list, uploads under way, and changes with their way back. */
import type { Media, MediaAbout, MediaSettings } from '../../core/media/media.ts';
import { asHeavyWork } from '../machine/heavy-work.ts';
import { askServer } from '../ui/ask.ts';
import { sendResumably } from '../ui/resumable.ts';
import { media as words } from '../words/index.ts';
import type { AnalysisOrder, FromAnalysis } from './analysis.worker.ts';
import { inspectFile } from './inspect.ts';
import { isStill, stillFile } from './still-file.ts';

/** A file on its way. */
export interface Sending {
	key: string;
	name: string;
	phase: 'looking' | 'sending' | 'waiting' | 'computing' | 'failed';
	/** 0 to 1. */
	part: number;
	problem: string;
	cancel: () => void;
}

export interface Notice {
	text: string;
	undo: (() => Promise<void>) | null;
}

export class MediaShelf {
	list = $state.raw<Media[]>([]);
	sending = $state.raw<Sending[]>([]);
	problem = $state('');
	notice = $state.raw<Notice | null>(null);
	#closed = false;
	/** Files of which somebody is computing what is shown. */
	#computing = new Set<string>();

	/** @param list as the server had it when the page was opened */
	constructor(list: Media[] = []) {
		this.list = list;
	}

	async refresh(): Promise<void> {
		const response = await fetch('/api/media').catch(() => null);
		if (response?.ok) this.list = (await response.json()) as Media[];
		else this.problem = words.listLost;
	}

	/**
	 * Looks into files, uploads those that can be played, and computes what is shown of them.
	 * @returns those that are in the library now
	 */
	async add(files: Iterable<File>, folder: string): Promise<Media[]> {
		const ids = await Promise.all([...files].map((file) => this.#add(file, folder)));
		return ids.flatMap((id) => this.list.find((media) => media.id === id) ?? []);
	}

	async #add(file: File, folder: string): Promise<string | null> {
		const key = crypto.randomUUID();
		const drop = () => (this.sending = this.sending.filter((each) => each.key !== key));
		this.sending = [...this.sending, { key, name: file.name, phase: 'looking', part: 0, problem: '', cancel: drop }];
		const set = (part: Partial<Sending>) =>
			(this.sending = this.sending.map((each) => (each.key === key ? { ...each, ...part } : each)));
		try {
			const still = isStill(file) ? await stillFile(file) : null;
			const about = still?.about ?? (await inspectFile(file));
			const id = await this.#send(still?.file ?? file, about, folder, set);
			if (id === null) return null;
			await this.refresh();
			set({ phase: 'computing', part: 0, cancel: drop });
			if (still) await this.#putPicture(id, 'poster', still.poster);
			else {
				const order = { file, lengthMs: about.lengthMs, posterMs: 0 };
				await this.#analyse({ id, name: file.name }, order, (part) => set({ part }));
			}
			drop();
			return id;
		} catch (error) {
			set({ phase: 'failed', problem: (error as Error).message, cancel: drop });
			return null;
		}
	}

	/** @returns the id of the file in the library; null when somebody has stopped it */
	#send(file: File, about: MediaAbout, folder: string, set: (part: Partial<Sending>) => void): Promise<string | null> {
		const metadata = { filename: file.name, folder, about: JSON.stringify(about) };
		const sending = sendResumably(
			file,
			{ endpoint: '/api/media/upload', metadata },
			{ sent: (part) => set({ phase: 'sending', part }), waits: () => set({ phase: 'waiting' }) },
			words.notSent,
		);
		set({
			cancel: () => {
				sending.stop(true);
				this.sending = this.sending.filter(({ name }) => name !== file.name);
			},
		});
		return sending.done;
	}

	/** Computes what is missing of files that came from somewhere else, one after another. */
	async analyseMissing(): Promise<void> {
		for (const { id, name, about, settings, analysis } of this.list) {
			if (this.#closed || analysis !== null || about.kind === 'still' || this.#computing.has(id)) continue;
			const file = new URL(`/api/media/${id}/file`, location.origin).href;
			const order = { file, lengthMs: about.lengthMs, posterMs: settings.posterMs };
			await this.#analyse({ id, name }, order, () => {}).catch((error: Error) => (this.problem = error.message));
		}
	}

	/** @throws with a sentence when a part of it cannot be decoded, or the server is not there */
	async #analyse(
		media: Pick<Media, 'id' | 'name'>,
		order: AnalysisOrder,
		onProgress: (part: number) => void,
	): Promise<void> {
		this.#computing.add(media.id);
		try {
			await asHeavyWork(() => this.#compute(media, order, onProgress));
		} finally {
			this.#computing.delete(media.id);
		}
	}

	async #compute(
		{ id, name }: Pick<Media, 'id' | 'name'>,
		order: AnalysisOrder,
		onProgress: (part: number) => void,
	): Promise<void> {
		const worker = new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module', name: 'analysis' });
		try {
			const pictures: Promise<unknown>[] = [];
			const analysis = await new Promise((resolve, reject) => {
				const fail = async (cause: string) => {
					const isThere = await fetch(`/api/media/${id}/file`, { headers: { Range: 'bytes=0-0' } }).then(
						({ ok }) => ok,
						() => false,
					);
					reject(new Error(isThere ? words.damagedInside(name) : words.listLost, { cause }));
				};
				worker.onerror = ({ message }) => void fail(message);
				worker.onmessage = ({ data }: MessageEvent<FromAnalysis>) => {
					if (data.type === 'progress') onProgress(data.part);
					else if (data.type === 'failed') void fail(data.reason);
					else if (data.type === 'done') resolve(data.analysis);
					else pictures.push(this.#putPicture(id, data.type, data.image));
				};
				worker.postMessage(order);
			});
			await Promise.all(pictures);
			if (analysis) await this.#change(id, { analysis });
		} finally {
			worker.terminate();
		}
	}

	async #putPicture(id: string, which: 'poster' | 'strip', image: Blob): Promise<void> {
		await fetch(`/api/media/${id}/${which}`, { method: 'PUT', body: image });
	}

	/** Takes another moment of a clip for its poster. */
	async setPoster(media: Media, posterMs: number): Promise<void> {
		const file = new URL(`/api/media/${media.id}/file`, location.origin).href;
		const order = { file, lengthMs: media.about.lengthMs, posterMs, onlyPoster: true };
		await this.#analyse(media, order, () => {}).catch((error: Error) => (this.problem = error.message));
		await this.set(media, { posterMs });
	}

	async #change(id: string, change: object): Promise<void> {
		const told = await askServer(`/api/media/${id}`, 'PATCH', change);
		this.problem = 'problem' in told ? told.problem : '';
		await this.refresh();
	}

	rename({ id }: Media, name: string): Promise<void> {
		return this.#change(id, { name });
	}

	move({ id }: Media, folder: string): Promise<void> {
		return this.#change(id, { folder });
	}

	async set({ id, name, settings: before }: Media, part: Partial<MediaSettings>): Promise<void> {
		await this.#change(id, { settings: { ...before, ...part } });
		this.notice = { text: words.changed(name), undo: () => this.#change(id, { settings: before }) };
	}

	async remove({ id, name }: Media): Promise<void> {
		await this.#change(id, { deleted: true });
		this.notice = { text: words.deleted(name), undo: () => this.#change(id, { deleted: false }) };
	}

	close(): void {
		this.#closed = true;
	}
}
