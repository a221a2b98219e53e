import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { withCookie } from '../acting.ts';
import { loginSchema, passwordSchema, secretSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const lookSchema = v.object({ secret: secretSchema });

/** What an invitation is for. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('link', locals.admitted.address);
	const { secret } = await bodyOf(request, lookSchema);
	const { name, role, roleAt } = access.people.invitation(secret);
	return json({ name, role, roleAt });
});

const joinSchema = v.object({ secret: secretSchema, name: nameSchema, login: loginSchema, password: passwordSchema });

/** Makes the account, and signs it in. */
export const PUT: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('link', locals.admitted.address);
	const { secret, name, login, password } = await bodyOf(request, joinSchema);
	const person = await access.people.join(secret, name, login, password);
	access.audit.add('joined', { kind: 'person', id: person.id, name: person.name }, locals.admitted.address);
	return withCookie({ ok: true }, await access.signIn('person', person.id, locals.admitted));
});
