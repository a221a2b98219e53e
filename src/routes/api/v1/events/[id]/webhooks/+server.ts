import { json } from '@sveltejs/kit';
import { apiHookOrderSchema } from '$core/programs/api.ts';
import { answering, bodyOf, eventOf } from '../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Servers that are told. */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	const hooks = event.locals.bivvo.webhooks.of(hub.eventId);
	return json({ webhooks: hooks.map(({ id, url, events }) => ({ id, url, events })) });
};

/** Another one. Its secret is in this answer only. */
export const POST: RequestHandler = answering(async (event) => {
	const { locals, request } = event;
	const { url, events } = await bodyOf(request, apiHookOrderSchema);
	const { hub } = await eventOf(event);
	const { hook, secret } = await locals.bivvo.webhooks.add(hub.eventId, url, events);
	const { actor, address } = locals.admitted;
	locals.bivvo.access.audit.add('webhookMade', actor!, address, { host: new URL(url).host }, hub.eventId);
	return json({ id: hook.id, url, events, secret }, { status: 201 });
});
