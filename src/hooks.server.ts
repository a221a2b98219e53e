import { json } from '@sveltejs/kit';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { openBivvo } from '$server/app.ts';
import { configFromEnvironment } from '$server/config.ts';
import { log } from '$server/log.ts';

export const init: ServerInit = async () => {
	globalThis.bivvo ??= await openBivvo(configFromEnvironment(process.env));
	if (process.env.BIVVO_DEMO === '1') await globalThis.bivvo.seedDemo();
};

/** A photograph is larger than what pages otherwise send; its route has a limit of its own. */
const MOST_BODY_BYTES = 32e6;
/** Its body is written to a file as it comes, up to a limit of its own. */
const TAKES_CLIPS = /^\/api\/events\/[^/]+\/recordings\/[^/]+\/exact$/;

export const handle: Handle = async ({ event, resolve }) => {
	const { headers, body } = event.request;
	const small = Number(headers.get('content-length') ?? Infinity) <= MOST_BODY_BYTES;
	if (body && !small && !TAKES_CLIPS.test(event.url.pathname))
		return json({ message: 'This is more than Bivvo takes; 32 MB is the most.' }, { status: 413 });
	event.locals.bivvo = globalThis.bivvo!;
	const response = await resolve(event);
	// SharedArrayBuffer needs an isolated page; in production the HTTP server sets these for files as well.
	response.headers.set('Cross-Origin-Opener-Policy', 'same-origin');
	response.headers.set('Cross-Origin-Embedder-Policy', 'require-corp');
	response.headers.set('X-Content-Type-Options', 'nosniff');
	response.headers.set('Referrer-Policy', 'same-origin');
	return response;
};

export const handleError: HandleServerError = ({ error, status, event }) => {
	if (status === 404) return { message: 'There is no such page.' };
	log.error({ path: event.url.pathname, err: error }, 'A request failed');
	return { message: 'Something went wrong on the server. Nothing was lost; try again.' };
};
