import { json } from '@sveltejs/kit';
import type { RegistrationResponseJSON } from '@simplewebauthn/server';
import * as v from 'valibot';
import { nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note, personOf } from '../acting.ts';
import { credentialSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ name: nameSchema, response: credentialSchema });

/** Keeps a passkey that the browser has made. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const person = personOf(locals);
	const { name, response } = await bodyOf(request, formSchema);
	const { passkeys } = locals.bivvo.access;
	await passkeys.add(person.id, locals.admitted.origin, response as never as RegistrationResponseJSON, name);
	note(locals, 'passkeyAdded', { name });
	return json({ ok: true });
});
