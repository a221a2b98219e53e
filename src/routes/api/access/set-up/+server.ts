import * as v from 'valibot';
import { nameSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { withCookie } from '../acting.ts';
import { codeSchema, loginSchema, passwordSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ code: codeSchema, name: nameSchema, login: loginSchema, password: passwordSchema });

/** Makes the owner of this server, with the code that its terminal shows. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('setUp', locals.admitted.address);
	const { code, name, login, password } = await bodyOf(request, formSchema);
	const owner = await access.makeOwner(code, name, login, password);
	access.audit.add('ownerMade', { kind: 'person', id: owner.id, name }, locals.admitted.address, {});
	return withCookie({ ok: true }, await access.signIn('person', owner.id, locals.admitted));
});
