import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note, personOf } from '../acting.ts';
import { passwordSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ former: passwordSchema, password: passwordSchema });

/** Sets one's own password. All other sessions of the person end. */
export const PUT: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	const person = personOf(locals);
	await access.limit('account', person.login);
	const { former, password } = await bodyOf(request, formSchema);
	// Who has passkeys only has none to tell; their session is what they have shown.
	if (person.password !== null && !(await access.people.isPasswordOf(person, former))) throw refuse('wrongLogin', {});
	await access.people.setPassword(person, password);
	await access.sessions.endAll('person', person.id, locals.admitted.session?.id);
	note(locals, 'passwordChanged');
	return json({ ok: true });
});
