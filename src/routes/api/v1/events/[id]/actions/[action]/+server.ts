import { randomUUID } from 'node:crypto';
import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { roleOf } from '$core/access/roles.ts';
import { apiOrderSchema, apiStateOf } from '$core/programs/api.ts';
import { refuse } from '$core/refusal.ts';
import { commandOf, subjectOf } from '$core/show/actions/actions.ts';
import { orderSchema } from '$core/show/actions/order.ts';
import { answering, bodyOf, eventOf } from '../../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Does an action, as a press would. */
export const POST: RequestHandler = answering(async (event) => {
	const { locals, request, params } = event;
	const hasBody = Number(request.headers.get('content-length') ?? 0) > 0;
	const asked = hasBody ? await bodyOf(request, apiOrderSchema) : {};
	const order = v.safeParse(orderSchema, { action: params.action, ...asked });
	if (!order.success) throw refuse('order', {});
	const { hub } = await eventOf(event);
	const { actor, address } = locals.admitted;
	if (subjectOf(hub.state, order.output) === null) throw refuse('order', {});
	const id = randomUUID();
	const press = { at: Date.now(), from: actor!.name, newId: randomUUID() };
	const command = commandOf(hub.state, order.output, press);
	if (command) {
		const role = roleOf(actor!, hub.eventId)!;
		await hub.submit({ client: `program-${actor!.id}`.slice(0, 64), role }, id, command);
		locals.bivvo.access.audit.add('programActed', actor!, address, { action: params.action }, hub.eventId);
	}
	return json({ done: command !== null, stored: !hub.isKept(id), state: apiStateOf(hub.state, hub.seq) });
});
