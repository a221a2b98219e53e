/**
 * The first door, in plain Node: what a request must be before a route, or the upgrade to a WebSocket, hears of it. It
 * knows nothing of people and roles.
 */
import type { IncomingHttpHeaders } from 'node:http';
import { isIP } from 'node:net';
import ipaddr from 'ipaddr.js';
import { MOST_PIECE_BYTES } from '../../core/guests/line-check.ts';

/** What the guard looks at. */
export interface Knock {
	method: string;
	/** The request target as it came. */
	target: string;
	headers: IncomingHttpHeaders;
	/** Header names as they came, to see what came twice. */
	rawHeaders: readonly string[];
	/** Address of the peer, and that at which it reached this server. */
	remoteAddress: string;
	localAddress: string;
	localPort: number;
	/** True for a connection by TLS to this server itself. */
	isTls: boolean;
}

/** What else it goes by. */
export interface GuardOptions {
	/** Origins under which pages of this server are opened, such as `https://bivvo.example.org`, beside its own addresses. */
	origins: readonly string[];
	/** Proxies, as addresses or networks (`10.0.0.0/8`), whose word counts for where a request comes from. */
	proxies: readonly string[];
	/** Names of this machine, beside its addresses. */
	names: readonly string[];
}

/** Why a request goes no further; `message` is for whoever reads the answer. */
export interface Turned {
	status: 400 | 403 | 413 | 415 | 421 | 429;
	message: string;
}

export interface Passed {
	/** Where it comes from, as far as that can be believed. */
	address: string;
	/** True when its sender reached this server, or its proxy, by TLS. */
	isSecure: boolean;
	/** True when something stands between its sender and this server. */
	isForwarded: boolean;
	/** The origin of this server's pages, as its sender sees it. */
	origin: string;
	path: string;
}

/** JSON that pages send is far below this. */
const MOST_JSON_BYTES = 1e6;
/** A photograph. */
const MOST_PICTURE_BYTES = 32e6;

/** Routes whose body is a file, with its types; the body of every other is JSON. */
const FILE_BODIES: readonly { path: RegExp; types: RegExp; most: number }[] = [
	{
		path: /^\/api\/events\/[^/]+\/files$/,
		types: /^(image\/|video\/webm$|application\/octet-stream$)/,
		most: MOST_PICTURE_BYTES,
	},
	{ path: /^\/api\/media\/[^/]+\/(poster|strip)$/, types: /^image\/jpeg$/, most: MOST_PICTURE_BYTES },
	// Read, and thrown away.
	{ path: /^\/api\/events\/[^/]+\/guest\/[^/]+\/line$/, types: /^application\/octet-stream$/, most: MOST_PIECE_BYTES },
	// These are written to a file as they come, up to limits of their own.
	{ path: /^\/api\/media\/upload(\/.*)?$/, types: /^application\/offset\+octet-stream$/, most: Infinity },
	{
		path: /^\/api\/events\/[^/]+\/guest\/[^/]+\/recording(\/.*)?$/,
		types: /^application\/offset\+octet-stream$/,
		most: Infinity,
	},
	{ path: /^\/api\/import$/, types: /^application\/zip$/, most: Infinity },
	{ path: /^\/api\/events\/[^/]+\/recordings\/[^/]+\/exact$/, types: /^video\/mp4$/, most: Infinity },
];
const JSON_BODY = { types: /^application\/json$/, most: MOST_JSON_BYTES };
/** What pages send as forms; beside them all is JSON. */
const FORM_BODY = { types: /^(application\/x-www-form-urlencoded|multipart\/form-data)$/, most: MOST_JSON_BYTES };

/** A page on which viewers watch. */
const WATCHED = /^\/watch\/[a-z0-9-]+(\?|$)/;

/** Methods that change nothing (RFC 9110, section 9.2.1). */
const SAFE = ['GET', 'HEAD', 'OPTIONS'];
const FORWARDED = ['forwarded', 'x-forwarded-for', 'x-forwarded-proto', 'x-forwarded-host', 'x-real-ip', 'via'];
const LOOPBACK_NAMES = ['localhost', '127.0.0.1', '[::1]'];

export class Guard {
	readonly #origins: readonly URL[];
	readonly #names: ReadonlySet<string>;
	readonly #proxies: readonly [ipaddr.IPv4 | ipaddr.IPv6, number][];

	/** @throws with a sentence when an origin or a proxy is none */
	constructor({ origins, proxies, names }: GuardOptions) {
		this.#origins = origins.map(readOrigin);
		this.#names = new Set(names.map((name) => name.toLowerCase()));
		this.#proxies = proxies.map(readNetwork);
	}

	/** @returns why the request goes no further, or what is known of it */
	check(knock: Knock): Turned | Passed {
		const path = pathOf(knock.target);
		if (path === null) return { status: 400, message: 'This is no address of a page.' };
		if (timesOf('host', knock.rawHeaders) > 1)
			return { status: 400, message: 'The request names more than one server.' };
		const origin = this.#originOf(knock);
		if (!origin)
			return {
				status: 421,
				message:
					'This name does not belong to this server. Open it by the address it prints when it starts, or name its address in BIVVO_ORIGIN.',
			};
		// A browser takes these for secure without TLS, and no others (W3C Secure Contexts, section 3.1).
		if (origin.startsWith('http:') && !LOOPBACK_NAMES.includes(new URL(origin).hostname))
			return {
				status: 403,
				message: 'Open this by https: passwords, cameras and microphones are for secure pages only.',
			};
		return turnedAsForeign(knock, origin) ?? turnedForItsBody(knock, path) ?? this.#known(knock, origin, path);
	}

	/** As `check`, for the upgrade to a WebSocket: only own pages, and programs that are no browser, may ask for one. */
	checkUpgrade(knock: Knock): Turned | Passed {
		const passed = this.check(knock);
		if ('status' in passed || isOwn(knock.headers.origin, passed.origin)) return passed;
		return { status: 403, message: 'Only pages of this server may do that.' };
	}

	/** The origin that a request was sent to; null when that is none of this server's. */
	#originOf({ headers: { host = '' }, localAddress, localPort, isTls }: Knock): string | null {
		const scheme = isTls ? 'https' : 'http';
		const named = this.#origins.find((origin) => origin.host === host.toLowerCase());
		if (named) return named.origin;
		const [, name, port = isTls ? '443' : '80'] = /^(\[[0-9a-f:.]+\]|[a-z0-9._-]+)(?::(\d{1,5}))?$/i.exec(host) ?? [];
		if (!name || Number(port) !== localPort) return null;
		const lower = name.toLowerCase();
		const local = plainAddress(localAddress);
		// A page of another name cannot get at an address by having its own name lead there.
		const isOurs =
			this.#names.has(lower) || (isIP(unbracketed(lower)) !== 0 && plainAddress(unbracketed(lower)) === local);
		const isLoopback = LOOPBACK_NAMES.includes(lower) && isLoopbackAddress(local);
		return isOurs || isLoopback ? new URL(`${scheme}://${host}`).origin : null;
	}

	#known(knock: Knock, origin: string, path: string): Passed {
		const { headers } = knock;
		const isForwarded = FORWARDED.some((name) => headers[name] !== undefined);
		const remote = plainAddress(knock.remoteAddress);
		if (!this.#isProxy(remote)) return { address: remote, isSecure: knock.isTls, isForwarded, origin, path };
		// Each proxy adds whom it was asked by at the end; what stands before the last stranger anybody may have written.
		const chain = textOf(headers['x-forwarded-for'])
			.split(',')
			.map((each) => plainAddress(each.trim()));
		const address = chain.findLast((each) => isIP(each) !== 0 && !this.#isProxy(each)) ?? remote;
		const isSecure = knock.isTls || textOf(headers['x-forwarded-proto']).split(',').at(-1)!.trim() === 'https';
		return { address, isSecure, isForwarded: true, origin, path };
	}

	#isProxy(address: string): boolean {
		if (!ipaddr.isValid(address)) return false;
		const parsed = ipaddr.process(address);
		return this.#proxies.some(
			([network, bits]) => parsed.kind() === network.kind() && parsed.match([network, bits] as never),
		);
	}
}

/** The path of a request target; null when it is none, or holds what no address has. */
function pathOf(target: string): string | null {
	if (!/^\/(?!\/)[\x21-\x7e]*$/.test(target)) return null;
	try {
		const { pathname } = new URL(target, 'http://server');
		decodeURIComponent(pathname);
		return pathname;
	} catch {
		return null;
	}
}

/** Requests that another site had the browser make (Fetch Metadata, W3C) find nothing, but for a link that is followed. */
function turnedAsForeign({ method, headers, target }: Knock, origin: string): Turned | null {
	const site = headers['sec-fetch-site'];
	const isFramed = ['iframe', 'frame', 'embed', 'object', 'fencedframe'].includes(textOf(headers['sec-fetch-dest']));
	// What viewers watch may stand in any page.
	if (isFramed && WATCHED.test(target) && SAFE.includes(method)) return null;
	if (isFramed && site !== 'same-origin') return { status: 403, message: 'Bivvo is not shown inside other pages.' };
	const isSafe = SAFE.includes(method);
	const isForeign = site !== undefined && site !== 'same-origin' && site !== 'none';
	const isFollowed = isSafe && headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document';
	const isOthers = !isSafe && !isOwn(headers.origin, origin);
	if ((isForeign && !isFollowed) || isOthers) return { status: 403, message: 'Only pages of this server may do that.' };
	return null;
}

/** True for an origin that is the server's, and for what says none: no browser leaves it out where it matters. */
function isOwn(asked: string | undefined, own: string): boolean {
	return asked === undefined || asked === own;
}

function turnedForItsBody({ method, headers }: Knock, path: string): Turned | null {
	const length = headers['content-length'];
	const hasBody = headers['transfer-encoding'] !== undefined || (length !== undefined && Number(length) > 0);
	if (!hasBody) return null;
	if (SAFE.includes(method)) return { status: 400, message: 'This request has no use for a body.' };
	const usual = path.startsWith('/api/') ? JSON_BODY : FORM_BODY;
	const { types, most } = FILE_BODIES.find((each) => each.path.test(path)) ?? usual;
	const type = textOf(headers['content-type']).split(';')[0]!.trim().toLowerCase();
	if (!types.test(type))
		return {
			status: 415,
			message:
				types === JSON_BODY.types ? 'This wants JSON (application/json).' : 'This kind of file is not taken here.',
		};
	// What does not say how long it is may be longer.
	if (Number(length ?? Infinity) > most)
		return { status: 413, message: `This is more than is taken here; ${most / 1e6} MB is the most.` };
	return null;
}

function textOf(header: string | string[] | undefined): string {
	return Array.isArray(header) ? header.join(',') : (header ?? '');
}

/** How often a header came; `rawHeaders` has names and values in turn. */
function timesOf(name: string, rawHeaders: readonly string[]): number {
	return rawHeaders.filter((each, i) => i % 2 === 0 && each.toLowerCase() === name).length;
}

function unbracketed(host: string): string {
	return host.replace(/^\[|\]$/g, '');
}

/** An address as it is usually written; IPv4 that came as IPv6 is IPv4 again. What is none stays as it is. */
export function plainAddress(address: string): string {
	const bare = address.replace(/%.*$/, '');
	return ipaddr.isValid(bare) ? ipaddr.process(bare).toString() : address;
}

export function isLoopbackAddress(address: string): boolean {
	return ipaddr.isValid(address) && ipaddr.process(address).range() === 'loopback';
}

function readOrigin(text: string): URL {
	const url = URL.canParse(text) ? new URL(text) : null;
	const isPlain = url && ['http:', 'https:'].includes(url.protocol) && url.origin === text.replace(/\/$/, '');
	if (!isPlain) throw new Error(`BIVVO_ORIGIN holds “${text}”, which is no origin such as https://bivvo.example.org.`);
	if (url.protocol === 'http:' && !LOOPBACK_NAMES.includes(url.hostname))
		throw new Error(`BIVVO_ORIGIN holds “${text}”: pages that others open need https.`);
	return url;
}

function readNetwork(text: string): [ipaddr.IPv4 | ipaddr.IPv6, number] {
	if (ipaddr.isValid(text)) {
		const address = ipaddr.process(text);
		return [address, address.kind() === 'ipv4' ? 32 : 128];
	}
	if (ipaddr.isValidCIDR(text)) return ipaddr.parseCIDR(text);
	throw new Error(`BIVVO_TRUST_PROXY holds “${text}”, which is no address and no network such as 10.0.0.0/8.`);
}
