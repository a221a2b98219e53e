/** How often somebody may ask. */
import {
	RateLimiterMemory,
	RateLimiterRedis,
	type RateLimiterAbstract,
	type RateLimiterRes,
} from 'rate-limiter-flexible';
import type { Redis } from 'ioredis';
import ipaddr from 'ipaddr.js';

/** Points within a time, seconds; a page of the desk takes some hundred requests to open. */
const RULES = {
	request: { points: 4000, duration: 10 },
	upgrade: { points: 200, duration: 10 },
	/** From one address, and for one account. */
	signIn: { points: 20, duration: 300 },
	account: { points: 10, duration: 300 },
	setUp: { points: 5, duration: 120 },
	pair: { points: 5, duration: 120 },
	/** Links and invitations. */
	link: { points: 30, duration: 60 },
	/** Pieces that a guest's line is measured with; a measurement takes 43 at most. */
	guestLine: { points: 100, duration: 60 },
	/** What another program asks for, by its token. */
	program: { points: 200, duration: 10 },
	/** Tests of destinations and accounts, which reach out to other servers. */
	outgoing: { points: 30, duration: 60 },
} as const;

export type Limit = keyof typeof RULES;
/** What is counted for every request keeps a node from being flooded, and needs no word of the others. */
const EACH_BY_ITSELF: readonly Limit[] = ['request'];

export class Limits {
	readonly #limiters: Record<Limit, RateLimiterAbstract>;

	/**
	 * @param redis where nodes count together; each counts by itself while it is away, and on a server of one
	 * @param organisation whose they are
	 */
	constructor(redis: Redis | null = null, organisation = '') {
		const limiters = Object.entries(RULES).map(([name, rule]): [string, RateLimiterAbstract] => {
			const keyPrefix = `limit ${organisation} ${name}`;
			const alone = new RateLimiterMemory({ keyPrefix, ...rule });
			const isShared = redis !== null && !EACH_BY_ITSELF.includes(name as Limit);
			const together = () => new RateLimiterRedis({ storeClient: redis, keyPrefix, insuranceLimiter: alone, ...rule });
			return [name, isShared ? together() : alone];
		});
		this.#limiters = Object.fromEntries(limiters) as Record<Limit, RateLimiterAbstract>;
	}

	/** Takes one point. @returns seconds to wait; 0 when there was one left */
	async take(limit: Limit, key: string): Promise<number> {
		try {
			await this.#limiters[limit].consume(key);
			return 0;
		} catch (rejected) {
			return Math.max(1, Math.ceil((rejected as RateLimiterRes).msBeforeNext / 1000));
		}
	}

	/** Gives a point back, for what went well. */
	async giveBack(limit: Limit, key: string): Promise<void> {
		await this.#limiters[limit].reward(key);
	}
}

/** Whose points an address's are: of IPv6 a whole network is one household. */
export function keyOf(address: string): string {
	if (!ipaddr.isValid(address)) return address;
	const parsed = ipaddr.process(address);
	if (parsed.kind() === 'ipv4') return parsed.toString();
	return (parsed as ipaddr.IPv6).parts
		.slice(0, 4)
		.map((part) => part.toString(16))
		.join(':');
}
