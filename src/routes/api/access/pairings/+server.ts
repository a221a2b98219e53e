import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { roleOf } from '$core/access/roles.ts';
import { idSchema, nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { roleSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

/** Pages of an event that a device may open first. */
const OPENED = ['', 'hall', 'stage', 'tally', 'panel/event', 'words', 'sheet'] as const;
const formSchema = v.object({
	name: nameSchema,
	role: roleSchema,
	eventId: v.nullable(idSchema),
	opens: v.optional(v.picklist(OPENED), ''),
});

/** Shows a code that pairs a tablet or a phone. Nobody gives a device more than they may themselves. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { name, role, eventId, opens } = await bodyOf(request, formSchema);
	const actor = locals.admitted.actor!;
	const own = roleOf(actor, eventId);
	const mayGive = own === 'owner' || (own === 'director' && role !== 'owner');
	if (!mayGive) throw refuse('forbidden', { who: role === 'owner' ? ['owner'] : ['director'] });
	const { code, until } = locals.bivvo.access.devices.offer(role, eventId, name, actor.name, opens);
	return json({ code, until, isOwnCertificate: locals.bivvo.access.ownCertificate !== null });
});
