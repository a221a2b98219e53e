import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { answering } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** It opens nothing any more. */
export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	const { tokens, audit } = locals.bivvo.access;
	const token = tokens.get(params.token);
	if (!token) throw refuse('gone', { what: 'token' });
	await tokens.revoke(token.id);
	const { actor, address } = locals.admitted;
	audit.add('tokenRevoked', actor!, address, { name: token.name }, token.eventId);
	return json({});
});
