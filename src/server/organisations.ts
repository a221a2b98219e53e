/**
 * The organisations of one server. Each has a database, a data folder, people and secrets of its own, so that no query of one can reach
 * another's rows. A cookie says in which of them a browser is; without it, it is in the first.
 */
import { randomUUID } from 'node:crypto';
import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import type { Duplex } from 'node:stream';
import slugify from '@sindresorhus/slugify';
import { parseCookie, stringifySetCookie } from 'cookie';
import { asc } from 'drizzle-orm';
import mysql from 'mysql2/promise';
import { refuse } from '../core/refusal.ts';
import type { Admitted } from './access/access.ts';
import { openBivvo } from './app.ts';
import type { Bivvo } from './bivvo.ts';
import type { Config } from './config.ts';
import { organisations } from './db/schema.ts';
import { CameraListener, type Certificate, type FindCamera } from './ingest/listener.ts';
import { Whip } from './ingest/whip.ts';
import { log } from './log.ts';
import { Cluster } from './nodes/cluster.ts';
import { CameraRelayDoor } from './nodes/camera-relay.ts';
import { NO_NEWS, News } from './nodes/news.ts';
import { acceptPassed } from './nodes/passed-on.ts';
import type { NodeCounts } from './nodes/registry.ts';
import type { Stills } from './files/stills.ts';
import { WatchAnswers } from './watch/answer-watch.ts';
import type { WatchPage, WatchPages } from './watch/watch-pages.ts';
import { placeOf } from './place.ts';

const COOKIE = 'bivvo-organisation';
/** In an address: leads into an organisation, whichever the browser was in. */
export const ORGANISATION_PARAMETER = 'o';
const NEWS = 'organisations';
const WATCH_PATH = /^\/watch\/([^/?#]+)/;
const COOKIE_LASTS_S = 400 * 24 * 3600;
export const MOST_ORGANISATIONS = 100;

export interface OrganisationLine {
	/** '' for the first. */
	id: string;
	name: string;
}

export class Organisations {
	readonly first: Bivvo;
	readonly #config: Config;
	readonly #others = new Map<string, { name: string; bivvo: Bivvo }>();
	/** The listener of each, made once. */
	readonly #listeners = new Map<Bivvo, RequestListener>();
	#ownCertificate: string | null = null;
	#news = NO_NEWS;
	readonly #findCamera: FindCamera = (key) => {
		for (const { cameras } of this.all) {
			const cameraId = cameras.keys.find(key);
			if (cameraId !== null) return { cameras, cameraId };
		}
		return null;
	};
	readonly #whip = new Whip(this.#findCamera);
	/** Being opened now. */
	readonly #opening = new Set<string>();
	readonly #watch = new WatchAnswers((slug) => this.watchPage(slug));
	readonly #cameraDoor = new CameraRelayDoor();
	/** Where cameras connect; null before it is opened, and where none is wanted. */
	cameraListener: CameraListener | null = null;
	#handler: RequestListener = (_, response) => void response.writeHead(404).end();

	/** The node that this process is among others; null for a server of one. */
	readonly cluster: Cluster | null;

	private constructor(config: Config, first: Bivvo, cluster: Cluster | null) {
		this.#config = config;
		this.first = first;
		this.cluster = cluster;
	}

	/** @throws with a sentence for the operator when the first cannot be opened; another that cannot is left out, and said */
	static async open(config: Config): Promise<Organisations> {
		const { node } = config;
		// What it has open is counted once there is something.
		let counts = (): NodeCounts => ({ events: 0, onAir: 0, keeps: 0 });
		const cluster = node ? await Cluster.join({ ...config, node }, () => counts()) : null;
		const all = new Organisations(config, await openBivvo(config, { cluster }), cluster);
		counts = () => all.#counts();
		all.#news = new News(cluster?.bus ?? null, '');
		all.#news.follow(NEWS, () => all.#openAll());
		await all.#openAll();
		return all;
	}

	/** Opens those that are not open yet. */
	async #openAll(): Promise<void> {
		const rows = await this.first.db.select().from(organisations).orderBy(asc(organisations.createdAt));
		for (const { id, name } of rows) {
			if (this.#others.has(id) || this.#opening.has(id)) continue;
			this.#opening.add(id);
			await this.#open(id, name).catch((error: unknown) =>
				log.error({ organisation: id, err: error }, 'An organisation is not opened'),
			);
			this.#opening.delete(id);
		}
	}

	/** All but the first by name. */
	get list(): OrganisationLine[] {
		return [...this.#others].map(([id, { name }]) => ({ id, name }));
	}

	/**
	 * Makes an organisation.
	 * @returns its id, and what stands behind `/join#` in the address by which somebody becomes its owner
	 * @throws {Refusal} when there are too many, or the database's user may not make one
	 */
	async add(name: string): Promise<{ id: string; secret: string }> {
		if (this.#others.size >= MOST_ORGANISATIONS)
			throw refuse('tooMany', { what: 'organisation', most: MOST_ORGANISATIONS });
		const id = `${slugify(name).replaceAll('-', '_').slice(0, 20) || 'organisation'}_${randomUUID().slice(0, 6)}`;
		const bivvo = await this.#open(id, name).catch((error: unknown) => {
			log.error({ err: error }, 'An organisation could not be made');
			throw refuse('noOrganisation', {});
		});
		await this.first.db.insert(organisations).values({ id, name, createdAt: Date.now() });
		this.#news.tell(NEWS, id);
		const { secret } = await bivvo.access.people.invite(name, { role: 'owner', roleAt: {} });
		return { id, secret };
	}

	async #open(id: string, name: string): Promise<Bivvo> {
		const place = placeOf(this.#config, id);
		const database = new URL(place.databaseUrl).pathname.slice(1);
		const connection = await mysql.createConnection({ uri: this.#config.databaseUrl });
		try {
			await connection.query('create database if not exists ?? character set utf8mb4 collate utf8mb4_unicode_ci', [
				database,
			]);
		} finally {
			await connection.end();
		}
		const bivvo = await openBivvo({ ...this.#config, ...place, organisation: id }, { cluster: this.cluster });
		bivvo.access.ownCertificate = this.#ownCertificate;
		this.#others.set(id, { name, bivvo });
		return bivvo;
	}

	/** The watch page with a part of an address, of whichever organisation; null where there is none. */
	watchPage(slug: string): { page: WatchPage; pages: WatchPages; stills: Stills } | null {
		for (const { watch, stills } of this.all) {
			const page = watch.find(slug);
			if (page) return { page, pages: watch, stills };
		}
		return null;
	}

	/** Lets cameras of the network connect. @param certificate for RTMPS; null offers none */
	async listenForCameras(certificate: Certificate | null): Promise<void> {
		const { host, cameraPort: port } = this.#config;
		if (port !== null) this.cameraListener = await CameraListener.open({ host, port }, this.#findCamera, certificate);
	}

	/** Fingerprint of the certificate that this server has made itself. */
	setOwnCertificate(fingerprint: string): void {
		this.#ownCertificate = fingerprint;
		for (const { access } of this.all) access.ownCertificate = fingerprint;
	}

	/** The one that a request is for. */
	of({ headers }: Pick<IncomingMessage, 'headers'>): Bivvo {
		const id = parseCookie(headers.cookie ?? '')[COOKIE] ?? '';
		return this.#others.get(id)?.bivvo ?? this.first;
	}

	/** Who was let in under a name, and by which organisation; null for nobody. */
	admitted(name: string | null): { bivvo: Bivvo; admitted: Admitted } | null {
		for (const bivvo of this.all) {
			const admitted = bivvo.access.admitted(name);
			if (admitted) return { bivvo, admitted };
		}
		return null;
	}

	/** The first one included. */
	get all(): Bivvo[] {
		return [this.first, ...[...this.#others.values()].map(({ bivvo }) => bivvo)];
	}

	#counts(): NodeCounts {
		const own = this.all.map(({ events, recordings }) => ({ ...events.counts, keeps: recordings.keeps }));
		const sumOf = (what: keyof NodeCounts) => own.reduce((sum, each) => sum + each[what], 0);
		return { events: sumOf('events'), onAir: sumOf('onAir'), keeps: sumOf('keeps') };
	}

	/** Puts the door of each organisation before a handler of requests. */
	listener(handler: RequestListener): RequestListener {
		this.#handler = handler;
		const here = this.#here();
		const { cluster } = this;
		return (request, response) => {
			if (!this.#accepts(request)) return void response.writeHead(403, { Connection: 'close' }).end();
			if (cluster?.answerState(request, response)) return;
			if (!cluster) return here(request, response);
			this.#placeOf(cluster, request).then(
				(to) => (to === null ? here(request, response) : cluster.pass(to, request, response)),
				// Without the database each node answers what it can.
				() => here(request, response),
			);
		};
	}

	/** The node that answers a request; null for this one. */
	async #placeOf(cluster: Cluster, request: IncomingMessage): Promise<string | null> {
		if (!cluster.mayPass(request)) return null;
		const [, slug] = WATCH_PATH.exec(request.url ?? '') ?? [];
		if (slug === undefined)
			return (await this.#whip.placeOf(request)) ?? cluster.placeOf(request, false, this.of(request).leases!);
		// Who watches is where the stream is.
		const bivvo = this.all.find(({ watch }) => watch.find(slug));
		const watched = bivvo?.watch.find(slug)?.shown(Date.now());
		return watched?.phase === 'live' ? cluster.placeWith(watched.eventId, bivvo!.leases!, request) : null;
	}

	#accepts(request: IncomingMessage): boolean {
		return this.cluster ? this.cluster.accept(request) : acceptPassed(request, null);
	}

	#here(): RequestListener {
		return (request, response) => {
			const isAnswered = this.#whip.handle(request, response) || this.#watch.handle(request, response);
			if (isAnswered || this.#leads(request, response)) return;
			const bivvo = this.of(request);
			const listener = this.#listeners.get(bivvo) ?? bivvo.access.listener((...both) => this.#handler(...both));
			this.#listeners.set(bivvo, listener);
			listener(request, response);
		};
	}

	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
		const { cluster } = this;
		if (!this.#accepts(request)) return void socket.destroy();
		// Without a cookie it is not told otherwise whose it is.
		const straight = this.all.find(({ uplinkTickets }) => uplinkTickets.has(request));
		if (straight) return straight.upgrade(request, socket, head);
		const bivvo = this.of(request);
		if (!cluster || !bivvo.leases) return bivvo.upgrade(request, socket, head);
		const camera = CameraRelayDoor.asks(request);
		if (camera) {
			const { organisation, cameraId } = camera;
			const of = organisation === '' ? this.first : this.#others.get(organisation)?.bivvo;
			return of ? this.#cameraDoor.open(of.cameras, cameraId, request, socket, head) : void socket.destroy();
		}
		const broke = (error: Error) => log.debug({ problem: error.message }, 'A connection broke before it was passed on');
		socket.on('error', broke);
		cluster.placeOf(request, true, bivvo.leases).then(
			(to) => (to === null ? bivvo.upgrade(request, socket, head) : cluster.passUpgrade(to, request, socket, head)),
			() => bivvo.upgrade(request, socket, head),
		);
	}

	/** An address that names an organisation leads into it, and is then as any other. */
	#leads({ method, url = '/', headers }: IncomingMessage, response: ServerResponse): boolean {
		if (method !== 'GET' || !url.startsWith('/') || !url.includes(`${ORGANISATION_PARAMETER}=`)) return false;
		const [target = '/', query = ''] = url.split('?', 2);
		const asked = new URLSearchParams(query);
		const id = asked.get(ORGANISATION_PARAMETER);
		if (id === null || (id !== '' && !this.#others.has(id)) || target.startsWith('/api/')) return false;
		asked.delete(ORGANISATION_PARAMETER);
		const rest = asked.toString();
		const cookie = stringifySetCookie({
			...{ name: COOKIE, value: id, httpOnly: true, sameSite: 'lax', path: '/' },
			secure: headers['x-forwarded-proto'] === 'https',
			maxAge: id === '' ? 0 : COOKIE_LASTS_S,
		});
		// Two slashes would lead to another server.
		const location = `/${target.replace(/^\/+/u, '')}${rest === '' ? '' : `?${rest}`}`;
		response.writeHead(303, { Location: location, 'Set-Cookie': cookie, 'Cache-Control': 'no-store' }).end();
		return true;
	}

	async close(): Promise<void> {
		await this.cameraListener?.close();
		this.#cameraDoor.close();
		await this.cluster?.leave();
		await Promise.all(this.all.map((bivvo) => bivvo.close()));
		await this.cluster?.close();
	}
}
