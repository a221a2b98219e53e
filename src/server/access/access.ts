/** Who is at the door: puts guard, limits and sessions together, and says for each request who asks. */
import { randomUUID, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import { STATUS_CODES } from 'node:http';
import { hostname } from 'node:os';
import type { Duplex } from 'node:stream';
import { parseCookie, stringifySetCookie } from 'cookie';
import type { Redis } from 'ioredis';
import { AT_THE_MACHINE, type Actor } from '../../core/access/roles.ts';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { log } from '../log.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';
import { cameBy } from '../nodes/passed-on.ts';
import { AuditLog } from './audit-log.ts';
import { Devices } from './devices.ts';
import { Guard, isLoopbackAddress, type GuardOptions, type Knock, type Passed, type Turned } from './guard.ts';
import { keyOf, Limits, type Limit } from './limits.ts';
import { Links } from './links.ts';
import { Passkeys } from './passkeys.ts';
import { ProgramTokens, type ProgramToken } from '../programs/tokens.ts';
import { People, type Person } from './people.ts';
import { Sessions, type Session, type SessionKind } from './sessions.ts';
import { newCode, plainCode } from './tokens.ts';

/** Over TLS a cookie's name binds it to this host (RFC 6265bis, section 4.1.3.2). */
const COOKIE = { secure: '__Host-bivvo', plain: 'bivvo' } as const;
/** A guest's pages, and what they ask. Their session is beside that of whoever else uses the browser. */
const GUESTS_TARGET = /^\/(?:guest\/[^/]+|(?:api\/)?events\/[^/]+\/guest)\/([a-zA-Z0-9-]{1,64})(?:\/|$)/;
/** What other programs ask, with a token. */
const PROGRAMS_TARGET = /^\/api\/v1(?:\/|$)/;
/** Browsers keep none longer than 400 days. */
const COOKIE_LASTS_S = 180 * 86_400;
const GUEST_COOKIE_LASTS_S = 2 * 86_400;
/** Names an admitted request between this door and the routes; one that came from outside is taken off. */
export const ADMITTED_HEADER = 'x-bivvo-admitted';
const TIDY_EVERY_MS = 3_600_000;
/** Wrong set-up codes before another one is made. */
const MOST_WRONG_CODES = 5;

/** A request that has come through the first door. */
export interface Admitted extends Passed {
	/** Null for somebody who is not signed in. */
	actor: Actor | null;
	session: Session | null;
	agent: string;
}

export interface AccessOptions extends Pick<GuardOptions, 'origins' | 'proxies'> {
	/** The address that the server listens on. */
	host: string;
	/** Id of the organisation, for names of cookies; '' for the first of the server. */
	organisation: string;
	/** What other nodes are told, and tell; none on a server of one. */
	news?: News;
	/** Where nodes count together how often somebody asks; none on a server of one. */
	redis?: Redis | null;
	/** Told when somebody needs the set-up code, who reads it at the machine. */
	onSetUpCode: (code: string) => void;
	/** Makes the set-up codes, the first, the second and so on: nodes show the same. Chance does on a server of one. */
	setUpCode?: (round: number) => string;
}

export class Access {
	readonly people: People;
	readonly passkeys: Passkeys;
	readonly devices: Devices;
	readonly links: Links;
	readonly sessions: Sessions;
	readonly tokens: ProgramTokens;
	readonly audit: AuditLog;
	/** Fingerprint of the certificate that this server has made itself, which browsers ask about once; null for none. */
	ownCertificate: string | null = null;
	readonly #limits: Limits;
	readonly #guard: Guard;
	readonly #options: AccessOptions;
	readonly #admitted = new Map<string, Admitted>();
	readonly #listeners = new Set<(sessionId: string) => void>();
	readonly #timer: NodeJS.Timeout;
	#setUp: { code: string; wrong: number } | null = null;
	#setUpRound = 0;

	private constructor(
		parts: Pick<Access, 'people' | 'passkeys' | 'devices' | 'links' | 'sessions' | 'tokens' | 'audit'>,
		options: AccessOptions,
	) {
		this.people = parts.people;
		this.passkeys = parts.passkeys;
		this.devices = parts.devices;
		this.links = parts.links;
		this.sessions = parts.sessions;
		this.tokens = parts.tokens;
		this.audit = parts.audit;
		this.#options = options;
		this.#limits = new Limits(options.redis, options.organisation);
		const name = hostname().toLowerCase();
		const { origins, proxies } = options;
		this.#guard = new Guard({ origins, proxies, names: [name, `${name}.local`] });
		this.sessions.onEnd((id) => this.#tell(id));
		this.people.onChanged((id) => this.changed('person', id));
		this.devices.onChanged((id) => this.changed('device', id));
		this.links.onChanged((id) => this.changed('link', id));
		const tidied = (error: unknown) => log.warn({ err: error }, 'Old sessions are not forgotten yet');
		this.#timer = setInterval(() => void this.sessions.tidy().catch(tidied), TIDY_EVERY_MS);
		this.#timer.unref();
		if (this.#isReachedByOthers) this.#needSetUp();
	}

	/** @param key that seals second factors @throws with a sentence when an option is not as it should be */
	static async open(db: Db, key: Buffer, options: AccessOptions): Promise<Access> {
		const { news = NO_NEWS } = options;
		const [people, passkeys, devices, links, sessions, tokens] = await Promise.all([
			People.open(db, key, news),
			Passkeys.open(db, news),
			Devices.open(db, news),
			Links.open(db, news),
			Sessions.open(db, news),
			ProgramTokens.open(db, news),
		]);
		return new Access({ people, passkeys, devices, links, sessions, tokens, audit: new AuditLog(db) }, options);
	}

	get #isReachedByOthers(): boolean {
		const { host, proxies, origins } = this.#options;
		const isLoopback = host === 'localhost' || isLoopbackAddress(host);
		return !isLoopback || proxies.length > 0 || origins.length > 0;
	}

	/** True when somebody has to make the owner's account first. */
	get needsSetUp(): boolean {
		return !this.people.hasOwner;
	}

	#needSetUp(): void {
		if (this.people.hasOwner || this.#setUp) return;
		const { setUpCode = newCode } = this.#options;
		this.#setUp = { code: setUpCode(this.#setUpRound++), wrong: 0 };
		this.#options.onSetUpCode(this.#setUp.code);
	}

	/** Makes the owner's account with the code that was printed at the machine. @throws {Refusal} */
	async makeOwner(typed: string, name: string, login: string, password: string): Promise<Person> {
		if (!this.#setUp || this.people.hasOwner) throw refuse('linkGone', { why: 'used' });
		const [asked, right] = [Buffer.from(plainCode(typed)), Buffer.from(this.#setUp.code)];
		if (asked.length === right.length && timingSafeEqual(asked, right)) {
			const owner = await this.people.make(name, login, password, { role: 'owner', roleAt: {} });
			this.#setUp = null;
			return owner;
		}
		if (++this.#setUp.wrong >= MOST_WRONG_CODES) {
			this.#setUp = null;
			this.#needSetUp();
		}
		throw refuse('codeWrong', {});
	}

	/** The first door for a request. Never throws for what a peer sends. */
	async admit(
		request: IncomingMessage,
	): Promise<Turned | (Admitted & { renewed: string | null; guest: string | null })> {
		const passed = this.#guard.check(knockOf(request));
		return 'status' in passed ? passed : this.#known(request, passed, 'request');
	}

	/** As `admit`, for the upgrade to a WebSocket. */
	async admitUpgrade(request: IncomingMessage): Promise<Turned | Admitted> {
		const passed = this.#guard.checkUpgrade(knockOf(request));
		return 'status' in passed ? passed : this.#known(request, passed, 'upgrade');
	}

	async #known(request: IncomingMessage, passed: Passed, limit: 'request' | 'upgrade') {
		const seconds = await this.#limits.take(limit, keyOf(passed.address));
		if (seconds > 0) return tooOften(seconds);
		const agent = request.headers['user-agent'] ?? '';
		if (limit === 'request' && PROGRAMS_TARGET.test(passed.path) && request.headers.authorization !== undefined) {
			const token = await this.tokens.find(request.headers.authorization);
			const wait = token ? await this.#limits.take('program', token.id) : 0;
			if (wait > 0) return tooOften(wait);
			return { ...passed, actor: token && actorOfToken(token), session: null, agent, guest: null, renewed: null };
		}
		const guest = GUESTS_TARGET.exec(passed.path)?.[1] ?? null;
		const secret = this.#secretOf(request.headers.cookie, passed.isSecure, guest);
		const found = secret ? await this.#sessionOf(secret, passed, limit === 'request') : null;
		const actor = found ? await this.#actorNow(found.session) : this.#whoSitsHere(passed);
		return { ...passed, actor, session: found?.session ?? null, agent, guest, renewed: found?.renewed ?? null };
	}

	/** While nobody else can get here, whoever does sits at the machine. */
	#whoSitsHere({ address, isForwarded }: Passed): Actor | null {
		if (isForwarded) this.#needSetUp();
		const isAlone = !this.#isReachedByOthers && !isForwarded && isLoopbackAddress(address);
		return isAlone ? AT_THE_MACHINE : null;
	}

	/** As `Sessions.find`, also of a session that another node has begun a moment ago. */
	async #sessionOf(secret: string, passed: Passed, mayRenew: boolean) {
		const find = () => this.sessions.find(secret, passed, mayRenew);
		const known = find();
		if (known) return known;
		await this.sessions.lookUp(secret);
		return find();
	}

	/** As `actorOf`, also of somebody whom another node has let in a moment ago. */
	async #actorNow(session: Session): Promise<Actor | null> {
		const known = this.actorOf(session);
		if (known) return known;
		const { kind, subjectId } = session;
		await { person: this.people, device: this.devices, link: this.links }[kind].lookUp(subjectId);
		return this.actorOf(session);
	}

	/** Who a session is now; null for one whose account, device or link is gone. */
	actorOf({ kind, subjectId, name }: Session): Actor | null {
		if (kind === 'person') {
			const person = this.people.get(subjectId);
			return person && { kind, id: person.id, name: person.name, role: person.role, roleAt: person.roleAt };
		}
		if (kind === 'device') {
			const device = this.devices.get(subjectId);
			if (!device) return null;
			const { id, role, eventId } = device;
			return { kind, id, name: device.name, role: eventId ? null : role, roleAt: eventId ? { [eventId]: role } : {} };
		}
		const link = this.links.get(subjectId);
		return link && { kind, id: link.id, name: name || link.name, role: null, roleAt: { [link.eventId]: link.role } };
	}

	/** Takes a point of a limit. @throws {Refusal} with the seconds to wait when there is none left */
	async limit(limit: Limit, key: string): Promise<void> {
		const seconds = await this.#limits.take(limit, keyOf(key));
		if (seconds > 0) throw refuse('tooOften', { seconds });
	}

	async giveBack(limit: Limit, key: string): Promise<void> {
		await this.#limits.giveBack(limit, keyOf(key));
	}

	/** Signs somebody in from where a request came from. @returns the cookie */
	async signIn(kind: SessionKind, subjectId: string, from: Admitted, name = ''): Promise<string> {
		// The browser's former session would be left behind.
		if (from.session) await this.sessions.end(from.session.id);
		return this.#cookieOf(await this.sessions.begin(kind, subjectId, from, name), from.isSecure);
	}

	/** Lets a guest in by a link, beside whoever else uses the browser. @returns the cookie */
	async letIn(linkId: string, from: Admitted, name: string): Promise<string> {
		return this.#cookieOf(await this.sessions.begin('link', linkId, from, name), from.isSecure, linkId);
	}

	/** True when a browser has been let in by a link of a guest's already. */
	isIn(linkId: string, cookies: string | null, from: Admitted): boolean {
		const secret = this.#secretOf(cookies ?? undefined, from.isSecure, linkId);
		const found = secret ? this.sessions.find(secret, from, false) : null;
		return found?.session.subjectId === linkId && this.links.get(linkId) !== null;
	}

	/** @returns the cookie that takes the session's place */
	async signOut(from: Admitted): Promise<string> {
		if (from.session) await this.sessions.end(from.session.id);
		return this.#cookieOf('', from.isSecure);
	}

	/** What somebody is has changed: their sockets are closed, and come again as what they are now. */
	changed(kind: SessionKind, subjectId: string): void {
		for (const { id } of this.sessions.list(kind, subjectId)) this.#tell(id);
	}

	#tell(sessionId: string): void {
		for (const listener of this.#listeners) listener(sessionId);
	}

	/** Calls somebody with each session that has ended or whose rights have changed. */
	onChange(listener: (sessionId: string) => void): void {
		this.#listeners.add(listener);
	}

	/** The request that the routes ask about by its header. */
	admitted(name: string | null): Admitted | null {
		return this.#admitted.get(name ?? '') ?? null;
	}

	/** Puts the door before a handler of requests. Whatever happens in it, the server goes on. */
	listener(handler: RequestListener): RequestListener {
		return (request, response) => {
			const broke = (error: Error) => log.debug({ problem: error.message }, 'A request broke');
			request.on('error', broke);
			response.on('error', broke);
			setHeaders(response);
			this.#serve(request, response, handler).catch((error: unknown) => {
				log.error({ err: error }, 'A request failed');
				if (response.headersSent) response.destroy();
				else answer(request, response, 500, 'Something went wrong on the server. Nothing was lost; try again.');
			});
		};
	}

	async #serve(request: IncomingMessage, response: ServerResponse, handler: RequestListener): Promise<void> {
		const admitted = await this.admit(request);
		if ('status' in admitted) return answer(request, response, admitted.status, admitted.message);
		if (admitted.renewed)
			response.appendHeader('Set-Cookie', this.#cookieOf(admitted.renewed, admitted.isSecure, admitted.guest));
		const name = randomUUID();
		this.#admitted.set(name, admitted);
		response.once('close', () => this.#admitted.delete(name));
		request.headers[ADMITTED_HEADER] = name;
		// What the routes take for the server's own address is what was checked here.
		const { protocol, host } = new URL(admitted.origin);
		request.headers['x-forwarded-proto'] = protocol.slice(0, -1);
		request.headers.host = host;
		handler(request, response);
	}

	/** @param guest link of a guest whose session is meant; null for that of whoever uses the browser */
	#cookieName(isSecure: boolean, guest: string | null): string {
		const { organisation } = this.#options;
		const plain = isSecure ? COOKIE.secure : COOKIE.plain;
		const name = organisation === '' ? plain : `${plain}-${organisation}`;
		return guest === null ? name : `${name}-guest-${guest}`;
	}

	#secretOf(cookies: string | undefined, isSecure: boolean, guest: string | null): string | null {
		return parseCookie(cookies ?? '')[this.#cookieName(isSecure, guest)] || null;
	}

	#cookieOf(secret: string, isSecure: boolean, guest: string | null = null): string {
		return stringifySetCookie({
			name: this.#cookieName(isSecure, guest),
			value: secret,
			httpOnly: true,
			secure: isSecure,
			// Strict would sign out whoever follows a link to a page.
			sameSite: 'lax',
			path: '/',
			maxAge: secret === '' ? 0 : guest === null ? COOKIE_LASTS_S : GUEST_COOKIE_LASTS_S,
		});
	}

	async close(): Promise<void> {
		clearInterval(this.#timer);
		await this.audit.close();
	}
}

function actorOfToken({ id, name, role, eventId }: ProgramToken): Actor {
	return { kind: 'program', id, name, role: eventId ? null : role, roleAt: eventId ? { [eventId]: role } : {} };
}

function tooOften(seconds: number): Turned {
	return { status: 429, message: `Too many requests came from here. Try again in ${seconds} s.` };
}

function knockOf(request: IncomingMessage): Knock {
	const { method, url, headers, rawHeaders } = request;
	return { method: method ?? 'GET', target: url ?? '', headers, rawHeaders, ...cameBy(request) };
}

/** Headers of every answer. Pages are isolated, since shared memory needs that; routes set more. */
function setHeaders(response: ServerResponse): void {
	response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
	response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
	response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
	// What pages may load the routes say; workers, which are files, go by the header of their file.
	response.setHeader('Content-Security-Policy', "frame-ancestors 'none'");
	response.setHeader('X-Content-Type-Options', 'nosniff');
	response.setHeader('Referrer-Policy', 'same-origin');
}

function answer({ headers, url }: IncomingMessage, response: ServerResponse, status: number, message: string): void {
	const isJson = url?.startsWith('/api/') || headers.accept?.includes('application/json');
	// What is left of the body is not read.
	response.writeHead(status, {
		'Content-Type': isJson ? 'application/json' : 'text/plain; charset=utf-8',
		'Cache-Control': 'no-store',
		Connection: 'close',
	});
	response.end(isJson ? JSON.stringify({ message }) : `${message}\n`);
}

/** Refuses an upgrade, to a peer that may be gone. */
export function refuseUpgrade(socket: Duplex, status: number, message: string): void {
	const body = `${message}\n`;
	socket.end(
		[
			`HTTP/1.1 ${status} ${STATUS_CODES[status]}`,
			'Connection: close',
			'Content-Type: text/plain; charset=utf-8',
			`Content-Length: ${Buffer.byteLength(body)}`,
			'',
			body,
		].join('\r\n'),
	);
}
