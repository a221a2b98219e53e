import { json, redirect } from '@sveltejs/kit';
import type { Handle, HandleServerError, RequestEvent, ServerInit } from '@sveltejs/kit';
import { mayUse, roleFor, ROUTE_RULES, whoMay, type Method } from '$core/access/policy.ts';
import { refusalWords } from '$lib/words/index.ts';
import { ADMITTED_HEADER } from '$server/access/access.ts';
import { configFromEnvironment } from '$server/config.ts';
import { log } from '$server/log.ts';
import { Organisations } from '$server/organisations.ts';

export const init: ServerInit = async () => {
	globalThis.organisations ??= await Organisations.open(configFromEnvironment(process.env));
	if (process.env.BIVVO_DEMO === '1') await globalThis.organisations.first.seedDemo();
};

export const handle: Handle = async ({ event, resolve }) => {
	const known = globalThis.organisations!.admitted(event.request.headers.get(ADMITTED_HEADER));
	// In development the very first request opens the server, and has come before there was a door.
	if (!known) return new Response('The server has just started. Load this page again.', { status: 503 });
	event.locals.bivvo = known.bivvo;
	event.locals.admitted = known.admitted;
	const response = turnedByRole(event) ?? (await resolve(event));
	if (event.route.id === '/watch/[slug]') letEmbed(response);
	if (event.route.id === '/events/[id]') letConnect(response);
	return response;
};

/** A desk sends its program straight to the node that has its event. */
function letConnect({ headers }: Response): void {
	const origins = globalThis.organisations!.cluster?.straightOrigins ?? [];
	const policy = headers.get('content-security-policy');
	if (policy === null || origins.length === 0) return;
	headers.set('content-security-policy', policy.replace('connect-src', `connect-src ${origins.join(' ')}`));
}

/** A watch page may stand within pages of any site: nothing on it does anything for who is signed in. */
function letEmbed({ headers }: Response): void {
	const policy = headers.get('content-security-policy') ?? '';
	headers.set('content-security-policy', policy.replace("frame-ancestors 'none'", 'frame-ancestors *'));
	headers.set('cross-origin-resource-policy', 'cross-origin');
}

/** What somebody gets who may not use a route; null for who may, and where there is none. */
function turnedByRole({ route, params, request, url, locals, isDataRequest }: RequestEvent): Response | null {
	if (route.id === null) return null;
	const { actor } = locals.admitted;
	const eventId = route.id.includes('/events/[id]') ? params.id! : null;
	const role = actor && roleFor(actor, route.id, request.method, eventId);
	if (mayUse(role, route.id, request.method)) return null;
	const rule = ROUTE_RULES[route.id]?.[request.method as Method];
	const who = rule === undefined || rule === 'anybody' ? [] : whoMay(rule);
	if (route.id.startsWith('/api/') || (request.method !== 'GET' && !isDataRequest))
		return actor
			? json({ message: refusalWords({ code: 'forbidden', about: { who } }) }, { status: 403 })
			: json({ message: refusalWords({ code: 'signInFirst', about: {} }) }, { status: 401 });
	if (actor) redirect(303, `/refused?who=${who.join(',')}`);
	redirect(303, locals.bivvo.access.needsSetUp ? '/set-up' : `/sign-in?to=${encodeURIComponent(url.pathname)}`);
}

export const handleError: HandleServerError = ({ error, status, event }) => {
	if (status === 404) return { message: 'There is no such page.' };
	log.error({ path: event.url.pathname, err: error }, 'A request failed');
	return { message: 'Something went wrong on the server. Nothing was lost; try again.' };
};
