import * as v from 'valibot';
import { Refusal } from '$core/refusal.ts';
import { plainLogin } from '$server/access/people.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note, withCookie } from '../acting.ts';
import { codeSchema, passwordSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({
	login: v.pipe(v.string(), v.maxLength(100)),
	password: passwordSchema,
	/** Of the second factor; empty where there is none. */
	code: codeSchema,
});

/** Signs somebody in with a password. Who has missed too often waits, from one address and for one account. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	const { login, password, code } = await bodyOf(request, formSchema);
	const account = plainLogin(login);
	await access.limit('signIn', locals.admitted.address);
	await access.limit('account', account);
	try {
		const person = await access.people.signIn(login, password, code);
		await access.giveBack('account', account);
		const cookie = await access.signIn('person', person.id, locals.admitted);
		access.audit.add('signedIn', { kind: 'person', id: person.id, name: person.name }, locals.admitted.address);
		return withCookie({ ok: true }, cookie);
	} catch (error) {
		if (error instanceof Refusal && error.reason.code === 'wrongLogin')
			note(locals, 'signInFailed', { login: account });
		throw error;
	}
});
