import { answering } from '../../../answer.ts';
import { note, withCookie } from '../acting.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = answering(async ({ locals }) => {
	note(locals, 'signedOut');
	return withCookie({ ok: true }, await locals.bivvo.access.signOut(locals.admitted));
});
