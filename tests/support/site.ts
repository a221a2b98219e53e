/** Bivvo as it is built, with its door and all its pages, in this process. */
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { RequestListener } from 'node:http';
import { vi } from 'vitest';
import type { Bivvo } from '../../src/server/bivvo.ts';
import type { Organisations } from '../../src/server/organisations.ts';
import { listenTo } from './app.ts';

export interface Site {
	/** The first organisation. */
	app: Bivvo;
	organisations: Organisations;
	port: number;
	url: string;
	/** Codes that were shown to make the owner, in turn. */
	codes: string[];
	close(): Promise<void>;
}

/** Settings that the start command gives the server. */
interface Settings {
	BIVVO_HOST?: string;
	BIVVO_ORIGIN?: string;
	BIVVO_TRUST_PROXY?: string;
}

/** One in a process, opened as the start command opens it. What it says on the terminal is read for its codes. */
export async function openSite(databaseUrl: string, folder: string, settings: Settings = {}): Promise<Site> {
	const codes: string[] = [];
	const said = vi.spyOn(console, 'log').mockImplementation((line: string) => {
		const code = /type this code: (\w+)/.exec(line)?.[1];
		if (code) codes.push(code);
	});
	Object.assign(process.env, {
		DATABASE_URL: databaseUrl,
		BIVVO_DATA: folder,
		BIVVO_REACH_LOOPBACK: '1',
		PROTOCOL_HEADER: 'x-forwarded-proto',
		BODY_SIZE_LIMIT: 'Infinity',
		...settings,
	});
	const built = pathToFileURL(path.resolve('build/handler.js')).href;
	const { handler } = (await import(built)) as { handler: RequestListener };
	const organisations = globalThis.organisations!;
	const app = organisations.first;
	const { port, close } = await listenTo(organisations, handler);
	return {
		app,
		organisations,
		port,
		url: `http://127.0.0.1:${port}`,
		codes,
		async close() {
			await close();
			said.mockRestore();
		},
	};
}

/** A browser as far as its cookies go. */
export class Visitor {
	readonly #cookies = new Map<string, string>();
	readonly #site: Pick<Site, 'url'>;

	constructor(site: Pick<Site, 'url'>) {
		this.#site = site;
	}

	get cookie(): string {
		return [...this.#cookies].map(([name, value]) => `${name}=${value}`).join('; ');
	}

	async ask(path: string, options: RequestInit = {}): Promise<Response> {
		const headers = new Headers(options.headers);
		if (this.cookie) headers.set('Cookie', this.cookie);
		const response = await fetch(this.#site.url + path, { redirect: 'manual', ...options, headers });
		for (const set of response.headers.getSetCookie()) {
			const [, name, value] = /^([^=]+)=([^;]*)/.exec(set)!;
			if (value === '') this.#cookies.delete(name!);
			else this.#cookies.set(name!, value!);
		}
		return response;
	}

	/** Sends JSON as a page of the site does. */
	async send(path: string, body: unknown, method = 'POST'): Promise<{ status: number; body: Record<string, unknown> }> {
		const headers = { 'Content-Type': 'application/json', Origin: this.#site.url };
		const response = await this.ask(path, { method, headers, body: JSON.stringify(body) });
		return { status: response.status, body: (await response.json()) as Record<string, unknown> };
	}
}
