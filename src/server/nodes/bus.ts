/**
 * What nodes tell each other: messages to all, and short-lived values that any of them may ask for. On a server of one
 * node it is in memory; of several it is Redis. Nothing is kept here that must not be lost: while Redis is away each node
 * goes on with what it knows, and whoever listens is told to read the database again when it is back.
 */
import { Redis } from 'ioredis';
import { log } from '../log.ts';

export interface Bus {
	/** Tells all other nodes. Not lost is what the database has as well. */
	publish(channel: string, message: unknown): void;
	/** @returns a function that ends it */
	subscribe(channel: string, listener: (message: unknown) => void): () => void;
	/** Told when messages may have been missed. */
	onGap(listener: () => void): void;
	/** Keeps a value for so long. */
	put(key: string, value: string, forMs: number): Promise<void>;
	get(key: string): Promise<string | null>;
	/** Gets a value once: nobody else gets it after that. */
	take(key: string): Promise<string | null>;
	/** For limits that hold for all nodes; null in memory. */
	readonly redis: Redis | null;
	/** False while other nodes cannot be told anything. */
	readonly isThere: boolean;
	close(): Promise<void>;
}

/** Of a server of one node: nobody else is to be told. */
export class MemoryBus implements Bus {
	readonly redis = null;
	readonly isThere = true;
	readonly #values = new Map<string, { value: string; until: number }>();

	publish(): void {}
	subscribe(): () => void {
		return () => {};
	}
	onGap(): void {}

	put(key: string, value: string, forMs: number): Promise<void> {
		const now = Date.now();
		for (const [each, { until }] of this.#values) if (until < now) this.#values.delete(each);
		this.#values.set(key, { value, until: now + forMs });
		return Promise.resolve();
	}
	get(key: string): Promise<string | null> {
		const found = this.#values.get(key);
		return Promise.resolve(found && found.until >= Date.now() ? found.value : null);
	}
	async take(key: string): Promise<string | null> {
		const value = await this.get(key);
		this.#values.delete(key);
		return value;
	}
	close(): Promise<void> {
		return Promise.resolve();
	}
}

const PREFIX = 'bivvo:';
/** Nobody who asks waits longer than this for Redis. */
const PATIENCE_MS = 1000;
const MOST_RETRY_MS = 1000;

export class RedisBus implements Bus {
	readonly redis: Redis;
	readonly #listening: Redis;
	readonly #node: string;
	readonly #listeners = new Map<string, Set<(message: unknown) => void>>();
	readonly #gaps = new Set<() => void>();

	/**
	 * @param url such as `redis://127.0.0.1:6379`
	 * @param node of whom messages are not told to itself
	 */
	constructor(url: string, node: string) {
		this.#node = node;
		const options = {
			maxRetriesPerRequest: 1,
			enableOfflineQueue: false,
			commandTimeout: PATIENCE_MS,
			retryStrategy: (times: number) => Math.min(100 * times, MOST_RETRY_MS),
		};
		this.redis = new Redis(url, options);
		this.#listening = new Redis(url, { ...options, enableOfflineQueue: true, commandTimeout: undefined });
		let isAway = false;
		for (const client of [this.redis, this.#listening])
			client.on('error', (error: Error) => {
				if (!isAway) log.error({ err: error }, 'Redis does not answer; nodes are told nothing until it is back');
				isAway = true;
			});
		this.#listening.on('ready', () => {
			if (isAway) log.info({}, 'Redis is back');
			const wasAway = isAway;
			isAway = false;
			if (wasAway) for (const listener of this.#gaps) listener();
		});
		this.#listening.on('message', (channel: string, text: string) => this.#receive(channel, text));
	}

	get isThere(): boolean {
		return this.redis.status === 'ready' && this.#listening.status === 'ready';
	}

	publish(channel: string, message: unknown): void {
		this.redis
			.publish(PREFIX + channel, JSON.stringify({ from: this.#node, message }))
			.catch((error: unknown) => log.warn({ err: error, channel }, 'Other nodes are not told'));
	}

	#receive(channel: string, text: string): void {
		try {
			const { from, message } = JSON.parse(text) as { from?: unknown; message?: unknown };
			if (from === this.#node) return;
			for (const listener of this.#listeners.get(channel) ?? []) listener(message);
		} catch (error) {
			log.warn({ err: error, channel }, 'A message of another node cannot be read');
		}
	}

	subscribe(channel: string, listener: (message: unknown) => void): () => void {
		const name = PREFIX + channel;
		const listeners = this.#listeners.get(name) ?? new Set();
		if (listeners.size === 0)
			this.#listening
				.subscribe(name)
				.catch((error: unknown) => log.warn({ err: error, channel }, 'Other nodes are not heard yet'));
		this.#listeners.set(name, listeners.add(listener));
		return () => void listeners.delete(listener);
	}

	onGap(listener: () => void): void {
		this.#gaps.add(listener);
	}

	async put(key: string, value: string, forMs: number): Promise<void> {
		await this.redis.set(PREFIX + key, value, 'PX', Math.max(1, Math.ceil(forMs)));
	}
	get(key: string): Promise<string | null> {
		return this.redis.get(PREFIX + key);
	}
	take(key: string): Promise<string | null> {
		return this.redis.getdel(PREFIX + key);
	}

	async close(): Promise<void> {
		this.redis.disconnect();
		this.#listening.disconnect();
	}
}
