import { json } from '@sveltejs/kit';
import { answering, bodyOf, eventOf } from '../../../../answer.ts';
import { note } from '../../../access/acting.ts';
import { linkOrderSchema } from '../../../access/fields.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = answering(async ({ params, locals }) =>
	json(locals.bivvo.access.links.of(params.id).map(({ hash: _, ...link }) => link)),
);

/** Makes a link; answers its secret, which is told this once. */
export const POST: RequestHandler = answering(async (event) => {
	const { hub } = await eventOf(event);
	const order = await bodyOf(event.request, linkOrderSchema);
	const { link, secret } = await event.locals.bivvo.access.links.make({ ...order, eventId: hub.eventId });
	note(event.locals, 'linkMade', { name: link.name, role: link.role }, hub.eventId);
	return json({ id: link.id, secret });
});
