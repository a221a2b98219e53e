/** The watch pages of one organisation: what each shows now, who watches, and what they write. */
import { timingSafeEqual } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { shownOf, watchedOf, wordsNow, type Watched, type WatchTold } from '../../core/watch-page/watched.ts';
import type { Audience as AudienceTold } from '../../core/show/messages.ts';
import type { SavedDestination, ShowState } from '../../core/show/state.ts';
import type { SavedDestinations } from '../access/saved-destinations.ts';
import { keyedHash } from '../access/secrets.ts';
import type { Db } from '../db/database.ts';
import { watchedEvents } from '../db/schema.ts';
import type { Found, Recordings } from '../files/recordings.ts';
import type { HlsPlace, HlsPlaces } from '../hls/hls-places.ts';
import type { HostAccount, HostMessage } from '../hosts/host-account.ts';
import { log } from '../log.ts';
import { FreshReads } from '../nodes/fresh-reads.ts';
import { NO_NEWS, type News } from '../nodes/news.ts';
import { Audience } from './audience.ts';

/** Words that stood last, for viewers who are behind; and what was written last. */
const MOST_TRAIL = 100;
const MOST_MESSAGES = 200;
const MOST_TOLD = 50;
const NEWS = 'watchedEvents';
const ORGANISATION_SAYS = '';
/** The second, smaller picture, where one is encoded anyway. */
export const SMALL = '-small';

/** Words as they stood from a moment on, milliseconds since 1970. */
export interface TrailStep {
	at: number;
	lines: string[];
}

type Page = SavedDestination & { watch: NonNullable<SavedDestination['watch']> };

/** What is known of one page. */
interface Known {
	page: Page;
	/** By event. */
	events: Map<string, Watched>;
	audience: Audience;
	messages: HostMessage[];
	count: number;
	/** What a cookie holds that lets in; null where no password is asked for. */
	pass: string | null;
}

export class WatchPages {
	readonly #db: Db;
	readonly #key: Buffer;
	readonly #destinations: SavedDestinations;
	readonly #recordings: Recordings;
	/** Null where nothing can be received. */
	readonly #places: HlsPlaces | null;
	/** By destination. */
	readonly #known = new Map<string, Known>();
	/** Words by event. */
	readonly #trails = new Map<string, TrailStep[]>();
	readonly #pageReads = new FreshReads();
	readonly #eventWrites = new FreshReads();

	readonly #news: News;
	readonly #isOwn: (eventId: string) => boolean;

	/**
	 * @param key that cookies are made with
	 * @param news of what other nodes change
	 * @param isOwn true for an event that only this node changes
	 */
	constructor(
		db: Db,
		key: Buffer,
		destinations: SavedDestinations,
		recordings: Recordings,
		places: HlsPlaces | null,
		news = NO_NEWS,
		isOwn: (eventId: string) => boolean = () => true,
	) {
		this.#news = news;
		this.#isOwn = isOwn;
		this.#db = db;
		this.#key = key;
		this.#destinations = destinations;
		this.#recordings = recordings;
		this.#places = places;
	}

	async open(): Promise<void> {
		this.#news.follow(NEWS, () => this.#read());
		await this.refresh();
		await this.#read();
	}

	/** Reads what pages show of events of other nodes. */
	async #read(): Promise<void> {
		const rows = await this.#db.select().from(watchedEvents);
		for (const [id, { events }] of this.#known) {
			for (const eventId of [...events.keys()]) if (!this.#isOwn(eventId)) events.delete(eventId);
			for (const { destinationId, eventId, watched } of rows)
				if (destinationId === id && !(events.has(eventId) && this.#isOwn(eventId)))
					events.set(eventId, watched as Watched);
		}
	}

	/** A destination has been saved, or forgotten. */
	async refresh(): Promise<void> {
		this.#pageReads.changed();
		await this.#pageReads.read(
			() => this.#readPages(),
			(pages) => this.#take(pages),
		);
	}

	async #readPages(): Promise<Pick<Known, 'page' | 'pass'>[]> {
		const pages = (await this.#destinations.list()).filter((each): each is Page => each.watch !== null);
		return Promise.all(
			pages.map(async (page) => {
				const { slug, access } = page.watch;
				if (access !== 'password') return { page, pass: null };
				const { password } = await this.#destinations.secretOf(page.id);
				return { page, pass: keyedHash(this.#key, `watch ${slug} ${password}`) };
			}),
		);
	}

	#take(pages: readonly Pick<Known, 'page' | 'pass'>[]): void {
		for (const id of [...this.#known.keys()]) if (!pages.some(({ page }) => page.id === id)) this.#known.delete(id);
		for (const { page, pass } of pages) {
			const known = this.#known.get(page.id);
			if (known) Object.assign(known, { page, pass });
			else
				this.#known.set(page.id, {
					...{ page, pass, events: new Map<string, Watched>(), audience: new Audience() },
					...{ messages: [], count: 0 },
				});
		}
	}

	/** True where a part of an address is taken by another page. */
	isTaken(slug: string, byOtherThan: string): boolean {
		return [...this.#known.values()].some(({ page }) => page.watch.slug === slug && page.id !== byOtherThan);
	}

	/** An event has changed. */
	follow(state: ShowState): void {
		const { eventId } = state;
		for (const [destinationId, { events }] of this.#known) {
			const watched = watchedOf(state, destinationId);
			const before = events.get(eventId);
			if (JSON.stringify(watched) === JSON.stringify(before ?? null)) continue;
			if (watched) events.set(eventId, watched);
			else events.delete(eventId);
			this.#store(destinationId, eventId, watched).catch((err: unknown) =>
				log.warn({ event: eventId, err }, 'What a watch page shows is not stored'),
			);
		}
		this.#followWords(state);
	}

	async #store(destinationId: string, eventId: string, watched: Watched | null): Promise<void> {
		const row = and(eq(watchedEvents.destinationId, destinationId), eq(watchedEvents.eventId, eventId));
		await this.#eventWrites.write(`${destinationId} ${eventId}`, () =>
			watched
				? this.#db
						.insert(watchedEvents)
						.values({ destinationId, eventId, watched })
						.onDuplicateKeyUpdate({ set: { watched } })
				: this.#db.delete(watchedEvents).where(row),
		);
		this.#news.tell(NEWS, eventId);
	}

	#followWords(state: ShowState): void {
		const lines = wordsNow(state);
		const trail = this.#trails.get(state.eventId) ?? [];
		if (trail.length === 0 && lines.length === 0) return;
		if (JSON.stringify(trail.at(-1)?.lines ?? []) === JSON.stringify(lines)) return;
		trail.push({ at: Date.now(), lines });
		this.#trails.set(state.eventId, trail.slice(-MOST_TRAIL));
	}

	/** An event is gone: no page shows it any more. */
	async forgetEvent(eventId: string): Promise<void> {
		for (const [destinationId, { events }] of this.#known)
			if (events.delete(eventId)) await this.#store(destinationId, eventId, null);
	}

	/** The page with a part of an address; null where there is none. */
	find(slug: string): WatchPage | null {
		const known = [...this.#known.values()].find(({ page }) => page.watch.slug === slug);
		return known ? new WatchPage(known, this.#trails, this.#places, this.#recordings) : null;
	}

	/** Whether somebody knows a page's password. @returns what a cookie holds; null for a wrong one */
	passOf(slug: string, password: string): string | null {
		const known = [...this.#known.values()].find(({ page }) => page.watch.slug === slug);
		const pass = keyedHash(this.#key, `watch ${slug} ${password}`);
		return known?.pass && isSame(pass, known.pass) ? pass : null;
	}

	/** The account of a page, as a host's: who watches, what they write. */
	accountOf(destinationId: string): HostAccount | null {
		const known = this.#known.get(destinationId);
		return known ? new WatchAccount(known) : null;
	}
}

function isSame(a: string, b: string): boolean {
	const [one, other] = [Buffer.from(a), Buffer.from(b)];
	return one.length === other.length && timingSafeEqual(one, other);
}

/** One page, as somebody who opens it sees it. */
export class WatchPage {
	readonly #known: Known;
	readonly #trails: ReadonlyMap<string, TrailStep[]>;
	readonly #places: HlsPlaces | null;
	readonly #recordings: Recordings;

	constructor(
		known: Known,
		trails: ReadonlyMap<string, TrailStep[]>,
		places: HlsPlaces | null,
		recordings: Recordings,
	) {
		this.#known = known;
		this.#trails = trails;
		this.#places = places;
		this.#recordings = recordings;
	}

	get place(): Page['watch'] {
		return this.#known.page.watch;
	}

	/** @param pass what a cookie holds */
	admits(pass: string): boolean {
		return this.#known.pass === null || isSame(pass, this.#known.pass);
	}

	/** The event that it shows now; null where there is none yet. */
	shown(now: number): Watched | null {
		return shownOf([...this.#known.events.values()], now);
	}

	/** What is received for it, the large picture first. */
	received(eventId: string): HlsPlace[] {
		return ['', SMALL].flatMap((part) => this.#places?.placeOf(eventId, this.#known.page.id + part) ?? []);
	}

	/** @param viewer names a page that watches; '' for none */
	async told(viewer: string, now: number): Promise<WatchTold> {
		const { page, audience, messages } = this.#known;
		const { slug, captions, messages: writes } = page.watch;
		const watched = this.shown(now);
		if (viewer !== '' && watched?.phase === 'live') audience.note(viewer, now);
		const base = `/watch/${slug}`;
		const [large] = watched ? this.received(watched.eventId) : [];
		const isPlayable = watched?.phase === 'live' && large !== undefined && large.shelf.playlist() !== null;
		const hidden = new Set(watched?.hidden);
		return {
			...{ phase: watched?.phase ?? 'before', title: watched?.title ?? page.name, now },
			...{ description: watched?.description ?? '', startsAt: watched?.startsAt ?? null },
			stream: isPlayable ? `${base}/hls/${watched.eventId}/main.m3u8` : null,
			delayS: large?.shelf.expectedDelayS ?? 0,
			recording: (await this.recording(now)) ? `${base}/recording.mp4` : null,
			picture: watched?.pictureId ? `${base}/picture` : null,
			captions,
			messages: writes ? messages.filter(({ id }) => !hidden.has(String(id))).slice(-MOST_TOLD) : null,
		};
	}

	/** The recording of the evening that is over, where viewers may see it. */
	async recording(now: number): Promise<Found | null> {
		const watched = this.shown(now);
		if (watched?.phase !== 'after' || !this.place.recording) return null;
		const [newest] = (await this.#recordings.list(watched.eventId)).filter(
			({ kind, endedAt }) => kind === 'program' && endedAt !== null,
		);
		return newest ? this.#recordings.find(watched.eventId, newest.id) : null;
	}

	/** Words that stood, for viewers who are behind. */
	trail(now: number): readonly TrailStep[] {
		const watched = this.shown(now);
		return watched && this.place.captions ? (this.#trails.get(watched.eventId) ?? []) : [];
	}

	/** A viewer writes something. @returns false where nobody does */
	write(from: string, text: string, now: number): boolean {
		if (!this.place.messages || this.shown(now)?.phase !== 'live') return false;
		addMessage(this.#known, from, text, now);
		return true;
	}
}

function addMessage(known: Known, from: string, text: string, at: number): void {
	known.messages = [...known.messages, { id: ++known.count, at, from, text }].slice(-MOST_MESSAGES);
}

/** A watch page is asked as a host is. Whoever may see it sees it at once; nothing has to be made public. */
class WatchAccount implements HostAccount {
	readonly #known: Known;

	constructor(known: Known) {
		this.#known = known;
	}

	audience(): Promise<AudienceTold> {
		return Promise.resolve({ public: true, viewers: this.#known.audience.count(Date.now()) });
	}

	plan(): Promise<null> {
		return Promise.resolve(null);
	}

	makePublic(): Promise<AudienceTold> {
		return this.audience();
	}

	end(): Promise<void> {
		return Promise.resolve();
	}

	messages(after: number): Promise<HostMessage[]> {
		return Promise.resolve(this.#known.messages.filter(({ id }) => id > after));
	}

	post(text: string): Promise<void> {
		if (this.#known.page.watch.messages) addMessage(this.#known, ORGANISATION_SAYS, text, Date.now());
		return Promise.resolve();
	}
}
