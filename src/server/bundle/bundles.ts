/** Bundles on their way: offered and fetched; uploaded, looked at, and taken in when somebody says so. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm, statfs } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { BundleSummary } from '../../core/bundle/bundle.ts';
import { refuse } from '../../core/refusal.ts';
import type { Bivvo } from '../bivvo.ts';
import { lookAt, takeIn, throwAway, type Looked } from './read.ts';
import { writeBundle, type BundleOrder, type Written } from './write.ts';

type Parts = Pick<Bivvo, 'db' | 'destinations' | 'events' | 'media' | 'songs' | 'stills' | 'templates'>;

/** One that nobody takes in is thrown away after so long. */
const KEPT_MS = 3_600_000;
const OFFERED_MS = 60_000;
/** A forgotten one does not keep the next from coming. */
const MOST_WAITING = 4;
/** What the disk keeps free for recordings, bytes. */
const RESERVE_BYTES = 2e9;

export class Bundles {
	readonly #parts: Parts;
	readonly #folder: string;
	#offered = new Map<string, BundleOrder>();
	#waiting = new Map<string, { looked: Looked; at: number; folder: string }>();

	/** @param folder for what is on its way */
	constructor(parts: Parts, folder: string) {
		this.#parts = parts;
		this.#folder = folder;
	}

	/** What was left by a server that was stopped is of no use. */
	async open(): Promise<void> {
		await rm(this.#folder, { recursive: true, force: true });
	}

	/** Offers a bundle, to be fetched once, soon. @returns what it is fetched by */
	offer(order: BundleOrder): string {
		const id = randomUUID();
		this.#offered.set(id, order);
		setTimeout(() => this.#offered.delete(id), OFFERED_MS).unref();
		return id;
	}

	/** @throws {Refusal} when it was fetched already, or was never offered */
	async fetch(id: string): Promise<Written> {
		const order = this.#offered.get(id);
		if (!order) throw refuse('notFound', { what: 'file' });
		this.#offered.delete(id);
		return writeBundle(this.#parts, order);
	}

	/** Receives a bundle and looks at it. @throws {Refusal} when it is none, or is torn */
	async receive(body: ReadableStream | null): Promise<{ id: string; summary: BundleSummary }> {
		if (!body) throw refuse('bundle', { why: 'none' });
		await this.#forgetOld(Date.now());
		const id = randomUUID();
		const folder = path.join(this.#folder, id);
		await mkdir(folder, { recursive: true });
		try {
			const disk = await statfs(folder);
			let room = disk.bavail * disk.bsize - RESERVE_BYTES;
			const zip = path.join(folder, 'bundle.zip');
			await pipeline(
				Readable.fromWeb(body),
				async function* (chunks: AsyncIterable<Buffer>) {
					for await (const chunk of chunks) {
						room -= chunk.length;
						if (room < 0) throw refuse('diskFull', {});
						yield chunk;
					}
				},
				createWriteStream(zip, { mode: 0o600 }),
			);
			const looked = await lookAt(zip, path.join(folder, 'files'), room);
			this.#waiting.set(id, { looked, at: Date.now(), folder });
			return { id, summary: looked.summary };
		} catch (error) {
			await throwAway(folder);
			throw error;
		}
	}

	/** Takes one in that was looked at. @throws {Refusal} when it is gone, or the passphrase is another one */
	async take(id: string, passphrase: string | null): Promise<{ events: string[] }> {
		const waiting = this.#waiting.get(id);
		if (!waiting) throw refuse('notFound', { what: 'file' });
		const taken = await takeIn(this.#parts, waiting.looked, passphrase);
		await this.drop(id);
		return taken;
	}

	/** Throws one away. */
	async drop(id: string): Promise<void> {
		const waiting = this.#waiting.get(id);
		this.#waiting.delete(id);
		if (waiting) await throwAway(waiting.folder);
	}

	async #forgetOld(now: number): Promise<void> {
		const byAge = [...this.#waiting].toSorted(([, a], [, b]) => b.at - a.at);
		const old = byAge.filter(([, { at }], i) => i >= MOST_WAITING - 1 || now - at > KEPT_MS);
		for (const [id] of old) await this.drop(id);
	}
}
