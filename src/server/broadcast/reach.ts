/** Which networks this server may reach out to on behalf of somebody who types an address. */
import dns from 'node:dns';
import net, { type LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';

/** What a local network is: loopback, or addresses that are nobody's on the Internet. */
export interface Allowed {
	loopback: boolean;
	/** Of the local network (RFC 1918, RFC 4193, RFC 6598), and link-local ones. */
	local: boolean;
}

/** Ranges of ipaddr.js that are the Internet, and those that are a local network. */
const PUBLIC = ['unicast'];
const LOCAL = ['private', 'uniqueLocal', 'linkLocal', 'carrierGradeNat'];

/** An address is in a network that may not be reached. It says nothing of what answers there. */
export class OutOfReach extends Error {
	readonly code = 'OUT_OF_REACH';
}

export class Reach {
	readonly #allowed: () => Allowed;

	constructor(allowed: () => Allowed) {
		this.#allowed = allowed;
	}

	/** Everywhere: for addresses that nobody types. */
	static readonly everywhere = new Reach(() => ({ loopback: true, local: true }));

	/** Whether an address may be reached; false for a name. */
	covers(address: string): boolean {
		if (!ipaddr.isValid(address)) return false;
		// An IPv4 address within an IPv6 one is what is reached.
		const range = ipaddr.process(address).range();
		const { loopback, local } = this.#allowed();
		return PUBLIC.includes(range) || (loopback && range === 'loopback') || (local && LOCAL.includes(range));
	}

	/** @throws {OutOfReach} for an address that may not be reached; a name is looked at when it is resolved */
	check(host: string): void {
		const bare = host.replace(/^\[|\]$/g, '');
		if (net.isIP(bare) !== 0 && !this.covers(bare)) throw new OutOfReach(bare);
	}

	/**
	 * For `net.connect` and requests: resolves a name once, and connects to what was looked at, so that a name which means
	 * something else a moment later leads nowhere.
	 */
	readonly lookup: LookupFunction = (hostname, options, callback) => {
		dns.lookup(hostname, { ...options, all: true }, (error, addresses) => {
			if (error) return callback(error, '', 0);
			const reached = addresses.filter(({ address }) => this.covers(address));
			if (reached.length === 0) return callback(new OutOfReach(hostname), '', 0);
			if (options.all) return callback(null, reached as never);
			callback(null, reached[0]!.address, reached[0]!.family);
		});
	};
}
