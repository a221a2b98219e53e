import * as v from 'valibot';
import type { AuthenticationResponseJSON } from '@simplewebauthn/server';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../../answer.ts';
import { withCookie } from '../../acting.ts';
import { credentialSchema } from '../../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ response: credentialSchema });

/** Signs in whose passkey it is. It stands for two factors: the device, and what unlocks it. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('signIn', locals.admitted.address);
	const { response } = await bodyOf(request, formSchema);
	const id = await access.passkeys.personOf(locals.admitted.origin, response as never as AuthenticationResponseJSON);
	const person = access.people.get(id);
	if (!person) throw refuse('passkey', { problem: 'unknown' });
	access.audit.add('signedIn', { kind: 'person', id, name: person.name }, locals.admitted.address, { by: 'passkey' });
	return withCookie({ ok: true }, await access.signIn('person', id, locals.admitted));
});
