import * as v from 'valibot';
import { answering, bodyOf } from '../../../answer.ts';
import { withCookie } from '../acting.ts';
import { codeSchema } from '../fields.ts';
import type { RequestHandler } from './$types';

const formSchema = v.object({ code: codeSchema });

/** Makes this browser a paired device, with the code that a desk shows. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const { access } = locals.bivvo;
	await access.limit('pair', locals.admitted.address);
	const { code } = await bodyOf(request, formSchema);
	const { id, name, role, eventId, opens } = await access.devices.pair(code);
	access.audit.add('devicePaired', { kind: 'device', id, name }, locals.admitted.address, { role }, eventId);
	return withCookie({ role, eventId, opens }, await access.signIn('device', id, locals.admitted));
});
