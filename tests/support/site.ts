/** Bivvo as it is built, with its door and all its pages, in this process. */
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { RequestListener } from 'node:http';
import type { Bivvo } from '../../src/server/bivvo.ts';
import type { Config } from '../../src/server/config.ts';
import { openApp } from './app.ts';

export interface Site {
	app: Bivvo;
	port: number;
	url: string;
	/** Codes that were shown to make the owner, in turn. */
	codes: string[];
	close(): Promise<void>;
}

/** One at a time: its pages find the server where the built one leaves it. */
export async function openSite(databaseUrl: string, folder: string, config: Partial<Config> = {}): Promise<Site> {
	const codes: string[] = [];
	let handler: RequestListener | null = null;
	const opened = await openApp(databaseUrl, folder, {
		config,
		onSetUpCode: (code) => codes.push(code),
		handler: (request, response) => handler!(request, response),
	});
	globalThis.bivvo = opened.app;
	process.env.PROTOCOL_HEADER = 'x-forwarded-proto';
	process.env.BODY_SIZE_LIMIT = 'Infinity';
	({ handler } = (await import(pathToFileURL(path.resolve('build/handler.js')).href)) as { handler: RequestListener });
	return { ...opened, url: `http://127.0.0.1:${opened.port}`, codes };
}

/** A browser as far as its cookies go. */
export class Visitor {
	#cookie = '';
	readonly #site: Pick<Site, 'url'>;

	constructor(site: Pick<Site, 'url'>) {
		this.#site = site;
	}

	get cookie(): string {
		return this.#cookie;
	}

	async ask(path: string, options: RequestInit = {}): Promise<Response> {
		const headers = new Headers(options.headers);
		if (this.#cookie) headers.set('Cookie', this.#cookie);
		const response = await fetch(this.#site.url + path, { redirect: 'manual', ...options, headers });
		for (const set of response.headers.getSetCookie()) this.#cookie = set.split(';')[0]!;
		return response;
	}

	/** Sends JSON as a page of the site does. */
	async send(path: string, body: unknown, method = 'POST'): Promise<{ status: number; body: Record<string, unknown> }> {
		const headers = { 'Content-Type': 'application/json', Origin: this.#site.url };
		const response = await this.ask(path, { method, headers, body: JSON.stringify(body) });
		return { status: response.status, body: (await response.json()) as Record<string, unknown> };
	}
}
