/**
 * A process of many viewers of a watch page: each asks for playlists, fetches every new piece, throws it away, and says that it
 * is there, as a player does. Told a number, it is so many; asked, it answers what they have got.
 */
import http from 'node:http';

const PLAYLIST_MS = 2000;
const NOW_MS = 4500;
/** What a viewer wants after a missed piece: the newest alone. */
const counts = { bytes: 0, pieces: 0, failed: 0, missed: 0 };
const agent = new http.Agent({ keepAlive: true, maxSockets: Infinity });

/** A connection that the server has closed meanwhile is opened anew, as browsers do. */
async function get(url: string, keep: boolean): Promise<string | null> {
	const first = await attempt(url, keep);
	if (first !== 'closed') return first;
	const second = await attempt(url, keep);
	if (second === 'closed') counts.failed++;
	return second === 'closed' ? null : second;
}

function attempt(url: string, keep: boolean): Promise<string | null | 'closed'> {
	return new Promise((resolve) => {
		const request = http.get(url, { agent }, (response) => {
			let text = '';
			if (response.statusCode !== 200) counts.failed++;
			response.on('data', (bytes: Buffer) => {
				counts.bytes += bytes.length;
				if (keep) text += bytes.toString('utf8');
			});
			response.on('end', () => resolve(response.statusCode === 200 ? text : null));
			response.on('error', () => resolve('closed'));
		});
		request.on('error', () => resolve('closed'));
	});
}

class Viewer {
	readonly #page: string;
	readonly #name = Math.random().toString(36).slice(2, 12).padEnd(8, '0');
	#list: string | null = null;
	#newest = '';

	constructor(page: string) {
		this.#page = page;
		void this.#ask();
		void this.#play();
	}

	async #ask(): Promise<void> {
		const text = await get(`${this.#page}/now.json?viewer=${this.#name}`, true);
		const stream = text === null ? null : (JSON.parse(text) as { stream: string | null }).stream;
		if (stream !== null) this.#list = new URL(stream.replace('main.m3u8', '0/live.m3u8'), this.#page).href;
		setTimeout(() => void this.#ask(), NOW_MS);
	}

	async #play(): Promise<void> {
		const text = this.#list === null ? null : await get(this.#list, true);
		const pieces = text?.split('\n').filter((line) => line.endsWith('.m4s')) ?? [];
		const from = pieces.indexOf(this.#newest) + 1;
		if (this.#newest !== '' && from === 0) counts.missed++;
		for (const piece of from === 0 ? pieces.slice(-1) : pieces.slice(from)) {
			await get(new URL(piece, this.#list!).href, false);
			counts.pieces++;
			this.#newest = piece;
		}
		setTimeout(() => void this.#play(), PLAYLIST_MS);
	}
}

process.on('message', (order: { page: string; count: number } | 'counts') => {
	if (order === 'counts') return void process.send!({ ...counts });
	// Not all in the same moment.
	for (let i = 0; i < order.count; i++) setTimeout(() => new Viewer(order.page), (i * PLAYLIST_MS) / order.count);
});
process.on('disconnect', () => process.exit(0));
