import { refuse } from '$core/refusal.ts';
import { answering, eventOf } from '../../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** It is told no more. */
export const DELETE: RequestHandler = answering(async (event) => {
	const { hub } = await eventOf(event);
	const { access, webhooks } = event.locals.bivvo;
	if (!(await webhooks.remove(hub.eventId, event.params.webhook))) throw refuse('gone', { what: 'webhook' });
	const { actor, address } = event.locals.admitted;
	access.audit.add('webhookRemoved', actor!, address, {}, hub.eventId);
	return new Response(null, { status: 204 });
});
