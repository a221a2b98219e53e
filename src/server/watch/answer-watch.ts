/**
 * What watch pages fetch while somebody watches: playlists, pieces of the stream, what is so now. It stands beside the door of
 * pages: many come, none of them has a session, and a web cache may keep what they are given.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { parseCookie, stringifySetCookie } from 'cookie';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import * as v from 'valibot';
import type { HlsPlace } from '../hls/hls-places.ts';
import { keyOf } from '../access/limits.ts';
import type { Found } from '../files/recordings.ts';
import type { Stills } from '../files/stills.ts';
import { rangeOf } from '../files/range.ts';
import { log } from '../log.ts';
import { cameBy } from '../nodes/passed-on.ts';
import type { WatchPage, WatchPages } from './watch-pages.ts';

const TARGET = /^\/watch\/([a-z0-9-]{3,60})\/(.+)$/;
const HLS = /^hls\/([a-zA-Z0-9_-]{1,64})\/(main\.m3u8|([01])\/([a-z0-9-]+\.(?:m3u8|m4s|mp4)))$/;
/** A playlist is new about every two seconds; a piece never changes under its name. */
const OF_A_PLAYLIST = 'public, max-age=1';
const OF_A_PIECE = 'public, max-age=3600, immutable';
const COOKIE_LASTS_S = 12 * 3600;
const MOST_BODY_BYTES = 4096;

const messageSchema = v.object({
	from: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40)),
	text: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(300)),
});

/** The page with a part of an address, and whose it is. */
export type FindPage = (slug: string) => { page: WatchPage; pages: WatchPages; stills: Stills } | null;

export function watchCookie(slug: string): string {
	return `bivvo-watch-${slug}`;
}

export class WatchAnswers {
	readonly #find: FindPage;
	readonly #passwords = new RateLimiterMemory({ keyPrefix: 'watch-password', points: 10, duration: 60 });
	readonly #writers = new RateLimiterMemory({ keyPrefix: 'watch-writes', points: 10, duration: 60 });

	constructor(find: FindPage) {
		this.#find = find;
	}

	/** @returns false for a request that is not for it: the page itself is a page like any other */
	handle(request: IncomingMessage, response: ServerResponse): boolean {
		const [path = '', query = ''] = (request.url ?? '').split('?', 2);
		const [, slug, what] = TARGET.exec(path) ?? [];
		if (slug === undefined || what === undefined) return false;
		const broke = (error: Error) => log.debug({ problem: error.message }, 'A viewer’s request broke');
		request.on('error', broke);
		response.on('error', broke);
		this.#serve(request, response, slug, what, new URLSearchParams(query)).catch((error: unknown) => {
			log.error({ err: error }, 'A watch page could not be answered');
			if (response.headersSent) response.destroy();
			else say(response, 500, 'Something went wrong on the server. Try again.');
		});
		return true;
	}

	async #serve(
		request: IncomingMessage,
		response: ServerResponse,
		slug: string,
		what: string,
		query: URLSearchParams,
	): Promise<void> {
		const found = this.#find(slug);
		response.setHeader('X-Content-Type-Options', 'nosniff');
		if (!found) return say(response, 404, 'There is no such page.');
		const { page, pages, stills } = found;
		if (what === 'enter') return this.#enter(request, response, slug, pages);
		if (!page.admits(parseCookie(request.headers.cookie ?? '')[watchCookie(slug)] ?? ''))
			return say(response, 403, 'This page asks for a password.');
		// Whoever may see it may play it elsewhere; with a password that is this page alone.
		const isOpen = page.place.access !== 'password';
		if (isOpen) response.setHeader('Access-Control-Allow-Origin', '*');
		response.setHeader('Cross-Origin-Resource-Policy', isOpen ? 'cross-origin' : 'same-origin');
		const now = Date.now();
		const [, eventId, file, rendition, piece] = HLS.exec(what) ?? [];
		if (eventId !== undefined && file !== undefined)
			return answerHls(
				response,
				page.received(eventId),
				isOpen,
				rendition ? { rendition: Number(rendition), file: piece! } : null,
			);
		if (what === 'messages' && request.method === 'POST') return this.#write(request, response, page);
		if (request.method !== 'GET' && request.method !== 'HEAD')
			return say(response, 405, 'It is only to be looked at.', { Allow: 'GET, HEAD' });
		if (what === 'now.json') return json(response, await page.told(query.get('viewer') ?? '', now));
		if (what === 'words.json') return json(response, page.trail(now));
		if (what === 'picture') {
			const { eventId: of, pictureId } = page.shown(now) ?? {};
			const picture = of && pictureId ? await stills.read(of, pictureId) : null;
			if (!picture) return say(response, 404, 'There is no picture.');
			response.writeHead(200, {
				'Content-Type': picture.type,
				'Cache-Control': isOpen ? 'public, max-age=60' : 'no-store',
			});
			return void response.end(picture.bytes);
		}
		if (what === 'recording.mp4') {
			const recording = await page.recording(now);
			return recording ? await sendFile(request, response, recording) : say(response, 404, 'There is no recording.');
		}
		say(response, 404, 'There is no such thing here.');
	}

	/** Somebody has typed the password in a form. */
	async #enter(request: IncomingMessage, response: ServerResponse, slug: string, pages: WatchPages): Promise<void> {
		if (request.method !== 'POST') return say(response, 405, 'A password is sent by the form.', { Allow: 'POST' });
		const from = `${slug} ${keyOf(cameBy(request).remoteAddress)}`;
		const isTooOften = await this.#passwords.consume(from).then(
			() => false,
			() => true,
		);
		const typed = new URLSearchParams((await textOf(request)) ?? '').get('password') ?? '';
		const pass = isTooOften ? null : pages.passOf(slug, typed.slice(0, 200));
		if (pass !== null) {
			const isSecure = request.headers['x-forwarded-proto'] === 'https' || 'encrypted' in request.socket;
			const cookie = { name: watchCookie(slug), value: pass, path: `/watch/${slug}`, maxAge: COOKIE_LASTS_S };
			response.setHeader(
				'Set-Cookie',
				stringifySetCookie({ ...cookie, httpOnly: true, sameSite: 'lax', secure: isSecure }),
			);
		}
		const why = pass !== null ? '' : isTooOften ? '?often' : '?wrong';
		response.writeHead(303, { Location: `/watch/${slug}${why}`, 'Cache-Control': 'no-store' }).end();
	}

	async #write(request: IncomingMessage, response: ServerResponse, page: WatchPage): Promise<void> {
		const isTooOften = await this.#writers.consume(keyOf(cameBy(request).remoteAddress)).then(
			() => false,
			() => true,
		);
		if (isTooOften) return say(response, 429, 'That was too much at a time. Wait a minute.');
		const message = v.safeParse(messageSchema, parsed((await textOf(request)) ?? ''));
		if (!message.success) return say(response, 400, 'A name and some words, please; 300 letters at most.');
		const { from, text } = message.output;
		if (!page.write(from, text, Date.now())) return say(response, 409, 'Nobody writes here now.');
		response.writeHead(204).end();
	}
}

/** Playlists and pieces (RFC 8216); the main playlist names one or two pictures. */
function answerHls(
	response: ServerResponse,
	received: readonly HlsPlace[],
	isOpen: boolean,
	asked: { rendition: number; file: string } | null,
): void {
	const kept = (cache: string) => (isOpen ? cache : 'private, no-store');
	const playlist = (text: string) => {
		response.writeHead(200, { 'Content-Type': 'application/vnd.apple.mpegurl', 'Cache-Control': kept(OF_A_PLAYLIST) });
		response.end(text);
	};
	if (asked === null) {
		const lines = received.flatMap(({ shelf }, i) => {
			const form = shelf.form();
			return form === null ? [] : [`#EXT-X-STREAM-INF:${form}`, `${i}/live.m3u8`];
		});
		if (lines.length === 0) return say(response, 404, 'Nothing is received yet.');
		return playlist(['#EXTM3U', '#EXT-X-VERSION:7', '#EXT-X-INDEPENDENT-SEGMENTS', ...lines, ''].join('\n'));
	}
	const shelf = received[asked.rendition]?.shelf;
	if (asked.file === 'live.m3u8') {
		const text = shelf?.playlist() ?? null;
		return text === null ? say(response, 404, 'Nothing is received yet.') : playlist(text);
	}
	const bytes = shelf?.file(asked.file);
	if (!bytes) return say(response, 404, 'This piece is gone.');
	response.writeHead(200, {
		...{ 'Content-Type': 'video/mp4', 'Content-Length': bytes.length },
		'Cache-Control': kept(OF_A_PIECE),
	});
	response.end(bytes);
}

async function sendFile(request: IncomingMessage, response: ServerResponse, file: Found): Promise<void> {
	const range = rangeOf(request.headers.range ?? null, file.bytes);
	if (range === 'impossible') return void response.writeHead(416, { 'Content-Range': `bytes */${file.bytes}` }).end();
	const { from, to } = range ?? { from: 0, to: file.bytes - 1 };
	response.writeHead(range ? 206 : 200, {
		...{ 'Content-Type': 'video/mp4', 'Accept-Ranges': 'bytes', 'Content-Length': to - from + 1 },
		...(range && { 'Content-Range': `bytes ${from}-${to}/${file.bytes}` }),
		'Cache-Control': 'no-store',
	});
	if (request.method === 'HEAD') return void response.end();
	const stream = await file.read(from, to);
	stream.on('error', () => response.destroy());
	response.once('close', () => stream.destroy());
	stream.pipe(response);
}

function json(response: ServerResponse, body: unknown): void {
	response.writeHead(200, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' });
	response.end(JSON.stringify(body));
}

function say(response: ServerResponse, status: number, message: string, headers: Record<string, string> = {}): void {
	response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', 'Cache-Control': 'no-store', ...headers });
	response.end(`${message}\n`);
}

/** The body of a request; null when it is too large. */
async function textOf(request: IncomingMessage): Promise<string | null> {
	let text = '';
	for await (const part of request.setEncoding('utf8') as AsyncIterable<string>) {
		text += part;
		if (text.length > MOST_BODY_BYTES) return null;
	}
	return text;
}

function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}
