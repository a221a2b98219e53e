import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema, nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { roleSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ name: nameSchema, role: roleSchema, eventId: v.nullable(idSchema) });

/** Tokens of other programs, without their secrets. */
export const GET: RequestHandler = ({ locals }) =>
	json(
		locals.bivvo.access.tokens.list.map(({ id, name, role, eventId, createdBy, createdAt, usedAt }) => ({
			...{ id, name, role, eventId, createdBy, createdAt, usedAt },
		})),
	);

/** Another one. Its secret is in this answer only. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { name, role, eventId } = await bodyOf(request, formSchema);
	const { actor, address } = locals.admitted;
	const { token, secret } = await locals.bivvo.access.tokens.make(name, role, eventId, actor!.name);
	locals.bivvo.access.audit.add('tokenMade', actor!, address, { name, role }, eventId);
	return json({ id: token.id, secret }, { status: 201 });
});
