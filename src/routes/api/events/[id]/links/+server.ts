import { json } from '@sveltejs/kit';
import { answering, bodyOf, eventOf } from '../../../../answer.ts';
import { note } from '../../../access/acting.ts';
import { linkOrderSchema } from '../../../access/fields.ts';
import type { RequestHandler } from './$types';

/** Links of an event, each with when and in which browsers it was opened that have it still. */
export const GET: RequestHandler = answering(async (event) => {
	const { hub } = await eventOf(event);
	const { links, sessions } = event.locals.bivvo.access;
	const all = links.of(hub.eventId).map(({ hash: _, ...link }) => ({
		...link,
		opened: sessions.list('link', link.id).map(({ createdAt, agent }) => ({ at: createdAt, agent })),
	}));
	return json(all);
});

/** Makes a link; answers its secret, which is told this once. */
export const POST: RequestHandler = answering(async (event) => {
	const { hub } = await eventOf(event);
	const order = await bodyOf(event.request, linkOrderSchema);
	const { link, secret } = await event.locals.bivvo.access.links.make({ ...order, eventId: hub.eventId });
	note(event.locals, 'linkMade', { name: link.name, role: link.role }, hub.eventId);
	return json({ id: link.id, secret });
});
