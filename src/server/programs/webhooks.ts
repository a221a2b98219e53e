/**
 * Webhooks: other servers are told when an event goes on air, ends, does a cue, gets a marker. Signed as the Standard Webhooks
 * specification 1.0 says (sections "Signature scheme" and "Webhook headers"): HMAC-SHA256 over id, time and body.
 */
import { createHmac, randomBytes, randomUUID } from 'node:crypto';
import http from 'node:http';
import https from 'node:https';
import type { ApiDelivery, HookEvent } from '../../core/programs/api.ts';
import { refuse } from '../../core/refusal.ts';
import { seal, unseal } from '../access/secrets.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { Kept } from '../access/kept.ts';
import { OutOfReach, type Reach } from '../broadcast/reach.ts';
import type { Db } from '../db/database.ts';
import { webhooks } from '../db/schema.ts';
import { log } from '../log.ts';

export type Webhook = typeof webhooks.$inferSelect;

/** After a delivery that failed, the next attempts come so much later, milliseconds. */
const RETRY_MS = [1000, 10_000, 60_000];
const PATIENCE_MS = 5000;
const MOST_HOOKS = 20;
/** Deliveries that wait, over all hooks. */
const MOST_WAITING = 200;

export class Webhooks {
	readonly #kept: Kept<typeof webhooks>;
	readonly #key: Buffer;
	readonly #reach: Reach;
	readonly #timers = new Set<NodeJS.Timeout>();
	#waiting = 0;

	private constructor(kept: Kept<typeof webhooks>, key: Buffer, reach: Reach) {
		this.#kept = kept;
		this.#key = key;
		this.#reach = reach;
	}

	/** @param key that seals secrets @param reach where they may lead */
	static async open(db: Db, key: Buffer, reach: Reach, news = NO_NEWS): Promise<Webhooks> {
		return new Webhooks(await Kept.open(db, webhooks, news), key, reach);
	}

	/** Those of one event. */
	of(eventId: string): Webhook[] {
		return this.#kept.all.filter((hook) => hook.eventId === eventId);
	}

	/** @returns the secret, which is told once @throws {Refusal} for an address that may not be reached */
	async add(eventId: string, url: string, events: HookEvent[]): Promise<{ hook: Webhook; secret: string }> {
		if (this.of(eventId).length >= MOST_HOOKS) throw refuse('tooMany', { what: 'webhook', most: MOST_HOOKS });
		const { protocol, hostname } = new URL(url);
		if (protocol !== 'http:' && protocol !== 'https:') throw refuse('hookAddress', {});
		try {
			this.#reach.check(hostname);
		} catch (error) {
			if (error instanceof OutOfReach) throw refuse('hookAddress', {});
			throw error;
		}
		const secret = `whsec_${randomBytes(24).toString('base64')}`;
		const id = randomUUID();
		const sealed = seal(this.#key, secret, boundTo(id, url));
		const hook = await this.#kept.add({ id, eventId, url, events, sealed, createdAt: Date.now() });
		return { hook, secret };
	}

	/** @returns false when there is no such hook at the event */
	async remove(eventId: string, id: string): Promise<boolean> {
		if (this.#kept.get(id)?.eventId !== eventId) return false;
		await this.#kept.remove(id);
		return true;
	}

	/** Tells all hooks of an event that want to know. */
	tell(eventId: string, delivery: ApiDelivery): void {
		for (const hook of this.of(eventId))
			if ((hook.events as HookEvent[]).includes(delivery.type)) {
				if (this.#waiting >= MOST_WAITING) return log.warn({ eventId }, 'A webhook was left out: too many wait');
				this.#waiting++;
				void this.#deliver(hook.id, randomUUID(), JSON.stringify(delivery), 0);
			}
	}

	async #deliver(hookId: string, messageId: string, body: string, attempt: number): Promise<void> {
		const hook = this.#kept.get(hookId);
		const isDone = !hook || (await this.#send(hook, messageId, body));
		const pause = RETRY_MS[attempt];
		if (isDone || pause === undefined) {
			this.#waiting--;
			if (!isDone) log.warn({ hook: hookId }, 'A webhook was not taken, and is not tried again');
			return;
		}
		const timer = setTimeout(() => {
			this.#timers.delete(timer);
			void this.#deliver(hookId, messageId, body, attempt + 1);
		}, pause);
		timer.unref();
		this.#timers.add(timer);
	}

	/** @returns true when it was taken */
	#send({ id, url, sealed }: Webhook, messageId: string, body: string): Promise<boolean> {
		const at = Math.floor(Date.now() / 1000);
		return new Promise((resolve) => {
			try {
				const secret = unseal(this.#key, sealed, boundTo(id, url));
				const target = new URL(url);
				this.#reach.check(target.hostname);
				const request = (target.protocol === 'https:' ? https : http).request(
					target,
					{
						method: 'POST',
						lookup: this.#reach.lookup,
						signal: AbortSignal.timeout(PATIENCE_MS),
						headers: {
							'Content-Type': 'application/json',
							'Content-Length': Buffer.byteLength(body),
							'webhook-id': messageId,
							'webhook-timestamp': String(at),
							'webhook-signature': `v1,${signatureOf(secret, messageId, at, body)}`,
						},
					},
					(response) => {
						response.resume();
						const status = response.statusCode ?? 0;
						resolve(status >= 200 && status < 300);
					},
				);
				request.on('error', () => resolve(false));
				request.end(body);
			} catch {
				resolve(false);
			}
		});
	}

	close(): void {
		for (const timer of this.#timers) clearTimeout(timer);
	}
}

/** A secret signs for nowhere else. */
const boundTo = (id: string, url: string) => `webhook ${id} ${url}`;

/** @param secret `whsec_` and base64 @param at seconds since 1970 @returns base64 */
export function signatureOf(secret: string, messageId: string, at: number, body: string): string {
	const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
	return createHmac('sha256', key).update(`${messageId}.${at}.${body}`).digest('base64');
}
