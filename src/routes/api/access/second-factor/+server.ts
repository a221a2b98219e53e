import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note, personOf } from '../acting.ts';
import { codeSchema, passwordSchema, secretSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

/** Proposes one; nothing is kept before a code of it was typed. */
export const POST: RequestHandler = answering(async ({ locals }) =>
	json(locals.bivvo.access.people.proposeSecondFactor(personOf(locals))),
);

const keepSchema = v.object({ secret: secretSchema, code: codeSchema });

export const PUT: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	const person = personOf(locals);
	await access.limit('account', person.login);
	const { secret, code } = await bodyOf(request, keepSchema);
	await access.people.setSecondFactor(person, secret, code);
	note(locals, 'secondFactorSet', { on: 'yes' });
	return json({ ok: true });
});

const dropSchema = v.object({ password: passwordSchema });

export const DELETE: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	const person = personOf(locals);
	await access.limit('account', person.login);
	const { password } = await bodyOf(request, dropSchema);
	if (!(await access.people.isPasswordOf(person, password))) throw refuse('wrongLogin', {});
	await access.people.dropSecondFactor(person);
	note(locals, 'secondFactorSet', { on: 'no' });
	return json({ ok: true });
});
