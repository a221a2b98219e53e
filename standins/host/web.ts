/** The stand-in host's web side: watch pages, a console page, and the files of HLS. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import { createRequire } from 'node:module';
import type { PlaceDesk } from './ingest.ts';
import { answerAccount, takeMessage } from './account.ts';
import { countUpload } from './line.ts';
import { OAuthDesk } from './oauth.ts';
import { profileOf, Programs, type Manner } from './programs.ts';

const page = (name: string) => readFileSync(new URL(`./pages/${name}`, import.meta.url), 'utf8');
const player = readFileSync(createRequire(import.meta.url).resolve('hls.js/dist/hls.min.js'));

/** Upload of the line that is stood in for: what a village has. */
const LINE_KBPS = Number(process.env.BIVVO_STANDIN_LINE_KBPS ?? 12_000);

/** How it speaks to programs that are signed in. */
const MANNER: Manner = process.env.BIVVO_STANDIN_MANNER === 'nested' ? 'nested' : 'plain';

/** @param rtmpPort where the ingest listens, as the account tells it */
export function openWeb(desks: readonly PlaceDesk[], rtmpPort: () => number): http.Server {
	const oauth = new OAuthDesk();
	const programs = new Programs(MANNER, oauth, desks, rtmpPort);
	// A program that is held up for seconds does not ask into the close of a connection that it has kept.
	return http.createServer({ keepAliveTimeout: 75_000 }, (request, response) => {
		// Whatever stands there: `//` is no URL, and must not end the host.
		const [pathname = '/'] = (request.url ?? '/').split('?');
		const [, section = '', ...parts] = pathname.split('/');
		const [app = '', file = ''] = parts;
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
		// A body that breaks off needs no answer.
		const brokenOff = () => void response.destroy();
		if (section === 'account') return void answerAccount(request, response, desks, parts, rtmpPort()).catch(brokenOff);
		if (section === 'oauth' && app === 'profile')
			return send('application/json', JSON.stringify(profileOf(MANNER, `http://${request.headers.host}`), null, '\t'));
		if (section === 'oauth') return void oauth.answer(request, response, app).catch(brokenOff);
		if (section === 'programs' && app === 'pictures')
			return send('application/json', JSON.stringify(programs.pictures));
		if (section === 'programs') return void programs.answer(request, response, parts).catch(brokenOff);
		if (section === 'messages' && desk && request.method === 'POST')
			return void takeMessage(request, response, desk).catch(brokenOff);
		if (section === 'messages' && desk) return send('application/json', JSON.stringify(desk.messages.list.slice(-20)));
		if (section === 'public' && desk && request.method === 'POST') {
			desk.state.public = true;
			return send('application/json', JSON.stringify(desk.state));
		}
		if (section === 'hls' && desk?.state.public && desk.planned?.visibility !== 'private') {
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
