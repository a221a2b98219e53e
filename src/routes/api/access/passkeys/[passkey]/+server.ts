import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import { note, personOf } from '../../acting.ts';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	await locals.bivvo.access.passkeys.remove(personOf(locals).id, params.passkey);
	note(locals, 'passkeyRemoved');
	return json({ ok: true });
});
