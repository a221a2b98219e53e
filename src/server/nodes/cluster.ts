/** One node among several: what it shares with the others, of whichever organisation. */
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Duplex } from 'node:stream';
import * as v from 'valibot';
import { leaseOf, ORGANISATION } from '../../core/nodes/lease-of.ts';
import { follower, roomiest, takes, type Emptying } from '../../core/nodes/load.ts';
import { keyedHash, openKeyFile } from '../access/secrets.ts';
import type { Config, NodeConfig } from '../config.ts';
import { openDatabase, type Database } from '../db/database.ts';
import { BuiltFiles } from '../files/built-files.ts';
import { log } from '../log.ts';
import { RedisBus, type Bus } from './bus.ts';
import { CameraRelay } from './camera-relay.ts';
import type { Leases } from './leases.ts';
import { acceptPassed, cameBy } from './passed-on.ts';
import { Passing } from './passing.ts';
import { AWAY_MS, machineLoad, Registry, type NodeCounts } from './registry.ts';

/** Where nodes ask each other how they do. Nothing of it is secret. */
const STATE_PATH = '/node/state';
const stateSchema = v.object({ databaseSeenMs: v.number() });
const ASKING_MS = 1000;
/** Whose an event was is known for so long without asking again. */
const KNOWN_MS = 300;
/** A request is passed on so often at most. */
const MOST_HOPS = 3;

export class Cluster {
	/** Of this process; another one after each start. */
	readonly node: string;
	readonly bus: Bus;
	readonly registry: Registry;
	readonly #key: Buffer;
	readonly #database: Database;
	readonly #passing: Passing;
	readonly #files: BuiltFiles;
	/** By the leases of each organisation. */
	readonly #known = new WeakMap<Leases, Map<string, { node: string | null; at: number }>>();

	private constructor(node: string, bus: Bus, registry: Registry, key: Buffer, database: Database, files: BuiltFiles) {
		this.node = node;
		this.bus = bus;
		this.registry = registry;
		this.#key = key;
		this.#database = database;
		this.#files = files;
		this.#passing = new Passing(key);
		registry.onSeen = (urls) => this.#passing.dropAllBut(urls);
	}

	/**
	 * Joins.
	 * @param counts what this node has open
	 * @throws when the database cannot be used, or other nodes have another key
	 */
	static async join(config: Config & { node: NodeConfig }, counts: () => NodeCounts): Promise<Cluster> {
		const id = randomUUID();
		// Whatever else the database is asked: that a node is there is said in time.
		const database = await openDatabase(config.databaseUrl, config.migrationsFolder, {
			connections: 2,
			isOneOfSeveral: true,
		});
		await mkdir(config.sharedFolder, { recursive: true });
		const key = await openKeyFile(config.sharedFolder);
		const files = await BuiltFiles.read(config.builtFolder);
		const { url, publicUrl } = config.node;
		const self = { id, url, publicUrl, version: files.build, keyMark: keyedHash(key, 'which key') };
		const registry = new Registry(database.db, self, machineLoad(config.dataFolder, counts));
		await registry.begin();
		const bus = new RedisBus(config.node.redisUrl, id);
		return new Cluster(id, bus, registry, key, database, files);
	}

	/** Hands on what cameras of an organisation send to another node than their desk's. @param organisation '' for the first */
	cameraRelay(organisation: string): CameraRelay {
		return new CameraRelay({ bus: this.bus, registry: this.registry, key: this.#key }, organisation);
	}

	/**
	 * Reads what another node says of a request.
	 * @returns false for a request that must be refused
	 */
	accept(request: IncomingMessage): boolean {
		return acceptPassed(request, this.#key);
	}

	/** False for a request that has been passed on so often that it is answered where it is. */
	mayPass(request: IncomingMessage): boolean {
		return cameBy(request).hops < MOST_HOPS;
	}

	/**
	 * Where a request is to be answered.
	 * @param leases of its organisation
	 * @returns address of another node; null for this one
	 */
	async placeOf(request: IncomingMessage, isUpgrade: boolean, leases: Leases): Promise<string | null> {
		if (this.#files.lacks(request.url ?? '')) return this.#otherBuild(request);
		const what = leaseOf(request.url ?? '', isUpgrade);
		return what === null ? null : this.placeWith(what, leases, request);
	}

	/**
	 * A node of another build, for a file that this one does not have: while nodes are replaced, a page that one has made
	 * asks for its files at any.
	 */
	#otherBuild(request: IncomingMessage): string | null {
		if (cameBy(request).hops > 0) return null;
		const { self, there } = this.registry;
		return there.find(({ version }) => version !== self.version)?.url ?? null;
	}

	/**
	 * The node that has what a lease is for. What nobody has goes to the node with the most room, which takes it.
	 * @returns its address; null for this one
	 */
	async placeWith(what: string, leases: Leases, request: IncomingMessage): Promise<string | null> {
		if (leases.holds(what) || !this.mayPass(request)) return null;
		const owner = await this.#ownerOf(what, leases);
		if (owner !== null && owner !== this.node) return this.#urlOf(owner);
		// Who has been chosen by another node takes it, unless somebody else was quicker.
		const chosen = what === ORGANISATION || cameBy(request).hops > 0 ? this.node : roomiest(this.registry.there);
		if (chosen !== null) this.registry.give(chosen);
		if (chosen !== null && chosen !== this.node) return this.#urlOf(chosen);
		if (!this.mayTake) return this.#urlOf(roomiest(this.registry.there));
		const taken = await leases.acquire(what);
		this.#knownTo(leases).delete(what);
		return taken.is === 'another' ? this.#urlOf(taken.node) : null;
	}

	#urlOf(node: string | null): string | null {
		return node === null || node === this.node ? null : (this.registry.find(node)?.url ?? null);
	}

	#knownTo(leases: Leases): Map<string, { node: string | null; at: number }> {
		const all = this.#known.get(leases) ?? new Map<string, { node: string | null; at: number }>();
		this.#known.set(leases, all);
		return all;
	}

	async #ownerOf(what: string, leases: Leases): Promise<string | null> {
		const now = Date.now();
		const all = this.#knownTo(leases);
		const known = all.get(what);
		if (known && now - known.at < KNOWN_MS) return known.node;
		for (const [id, { at }] of all) if (now - at >= KNOWN_MS) all.delete(id);
		const node = await leases.ownerOf(what);
		all.set(what, { node, at: now });
		return node;
	}

	/**
	 * True when the database is gone for most nodes, this one included, and none that can be asked has it: then nobody can
	 * take an event of another one. A node that is cut off from all others has no say.
	 */
	async isDatabaseGone(): Promise<boolean> {
		const others = this.registry.there.filter(({ id }) => id !== this.node);
		const told = await Promise.all(
			others.map(async ({ url }) => {
				const answer = await fetch(url + STATE_PATH, { signal: AbortSignal.timeout(ASKING_MS) }).catch(() => null);
				const state = v.safeParse(stateSchema, await answer?.json().catch(() => null));
				return state.success ? state.output.databaseSeenMs > AWAY_MS : null;
			}),
		);
		const lost = told.filter((isGone) => isGone === true).length;
		return !told.includes(false) && 1 + lost > (1 + others.length) / 2;
	}

	/** What this node tells others that ask. @returns false for a request that is for somebody else */
	answerState(request: IncomingMessage, response: ServerResponse): boolean {
		if (request.url !== STATE_PATH) return false;
		const state: v.InferOutput<typeof stateSchema> = { databaseSeenMs: Math.round(this.registry.databaseSeenMs) };
		response.writeHead(200, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' });
		response.end(JSON.stringify(state));
		return true;
	}

	/**
	 * True when it is this node's turn to follow for an event that nobody has.
	 * @param forMs since when nobody has it
	 */
	isFollower(eventId: string, forMs: number): boolean {
		const passed = new Set<string>();
		for (let turn = 0; turn <= forMs / TURN_MS; turn++) {
			const next = follower(eventId, this.registry.there, passed);
			if (next === null || next === this.node) return true;
			passed.add(next);
		}
		return false;
	}

	/** True while a node that was there is not heard of: what it has may soon be nobody's. */
	get isSomeoneSilent(): boolean {
		return this.registry.isSomeoneSilent;
	}

	pass(to: string, request: IncomingMessage, response: ServerResponse): void {
		this.#passing.request(to, request, response);
	}

	passUpgrade(to: string, request: IncomingMessage, socket: Duplex, head: Buffer): void {
		this.#passing.upgrade(to, request, socket, head);
	}

	/** Where pages may connect besides their own server. */
	get straightOrigins(): string[] {
		return this.registry.all.flatMap(({ isThere, publicUrl }) =>
			isThere && publicUrl !== null ? [publicUrl.replace(/^http/, 'ws')] : [],
		);
	}

	/** How this node is emptied; null while it takes events. */
	get emptying(): Emptying | null {
		return this.registry.emptying;
	}

	/** True while this node takes events that nobody has; one that is emptied does when there is no other. */
	get mayTake(): boolean {
		return this.emptying === null || !this.registry.there.some((node) => node.id !== this.node && takes(node));
	}

	/** Says that this node is about to go: others take what it gives away. */
	leave(): Promise<void> {
		return this.registry.leave();
	}

	/** Leaves for good. Leases must have been given back. */
	async close(): Promise<void> {
		await this.registry.conclude();
		this.#passing.close();
		await this.bus.close();
		await this.#database.close();
		log.info({}, 'This node has left');
	}
}

/** Each node has so long for what is its turn; then it is the next one's as well. */
const TURN_MS = 700;
