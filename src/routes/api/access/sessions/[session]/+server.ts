import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { answering } from '../../../../answer.ts';
import { note } from '../../acting.ts';
import type { RequestHandler } from './$types';

/** Ends a session: one's own, or for an owner anybody's. */
export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	const { sessions } = locals.bivvo.access;
	const { actor } = locals.admitted;
	const session = sessions.get(params.session);
	const isOwn = session?.kind === actor?.kind && session?.subjectId === actor?.id;
	if (!session || (!isOwn && actor?.role !== 'owner')) throw refuse('gone', { what: 'session' });
	await sessions.end(session.id);
	note(locals, 'sessionEnded', { agent: session.agent });
	return json({ ok: true });
});
