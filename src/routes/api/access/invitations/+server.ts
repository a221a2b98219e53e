import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note } from '../acting.ts';
import { rolesSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ name: nameSchema, ...rolesSchema.entries });

/** Invites somebody; answers the secret of the link, which is told this once. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { name, role, roleAt } = await bodyOf(request, formSchema);
	const invited = await locals.bivvo.access.people.invite(name, { role, roleAt });
	note(locals, 'invited', { name, role: role ?? '' });
	return json(invited);
});
