import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../answer.ts';
import { note } from '../access/acting.ts';
import type { RequestHandler } from './$types';

/** Makes an organisation on this server. Only the owner of the first one may. */
export const POST: RequestHandler = answering(async ({ locals, request }) => {
	const all = globalThis.organisations!;
	if (locals.bivvo !== all.first) throw refuse('forbidden', { who: ['owner'] });
	const { name } = await bodyOf(request, v.object({ name: nameSchema }));
	const made = await all.add(name);
	note(locals, 'organisationMade', { name });
	return json(made);
});
