/** The stand-in host's web side: watch pages, a console page, and the files of HLS. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import { createRequire } from 'node:module';
import type { PlaceDesk } from './ingest.ts';
import { answerAccount } from './account.ts';
import { countUpload } from './line.ts';

const page = (name: string) => readFileSync(new URL(`./pages/${name}`, import.meta.url), 'utf8');
const player = readFileSync(createRequire(import.meta.url).resolve('hls.js/dist/hls.min.js'));

/** Upload of the line that is stood in for: what a village has. */
const LINE_KBPS = Number(process.env.BIVVO_STANDIN_LINE_KBPS ?? 12_000);

export function openWeb(desks: readonly PlaceDesk[]): http.Server {
	return http.createServer((request, response) => {
		const { pathname } = new URL(request.url ?? '/', 'http://local');
		const [, section = '', app = '', file = ''] = pathname.split('/');
		const desk = desks.find(({ place }) => place.app === app);
		// Anybody's page may play a stream; that is what a host is for.
		response.setHeader('Access-Control-Allow-Origin', '*');
		response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
		response.setHeader('Cache-Control', 'no-store');
		const send = (type: string, body: string | Uint8Array) => response.setHeader('Content-Type', type).end(body);

		if (pathname === '/') return send('text/html; charset=utf-8', page('console.html'));
		if (pathname === '/player.js') return send('text/javascript', player);
		if (pathname === '/api/places') return send('application/json', JSON.stringify(desks.map(({ state }) => state)));
		if (section === 'line' && request.method === 'POST') return countUpload(request, response, LINE_KBPS);
		if (section === 'watch' && desk) return send('text/html; charset=utf-8', page('watch.html'));
		if (section === 'account' && desk) return answerAccount(request, response, desk, file);
		if (section === 'public' && desk && request.method === 'POST') {
			desk.state.public = true;
			return send('application/json', JSON.stringify(desk.state));
		}
		if (section === 'hls' && desk?.state.public) {
			const playlist = file === 'live.m3u8' ? desk.shelf.playlist() : null;
			if (playlist !== null) desk.audience.note(request);
			if (playlist !== null) return send('application/vnd.apple.mpegurl', playlist);
			const bytes = desk.shelf.file(file);
			if (bytes) return send('video/mp4', bytes);
		}
		response.statusCode = 404;
		send('text/plain; charset=utf-8', 'Nothing here.');
	});
}
