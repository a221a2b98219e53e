import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { answering } from '../../../../../answer.ts';
import { note } from '../../../../access/acting.ts';
import type { RequestHandler } from './$types';

function linkOf({ params, locals }: { params: { id: string; link: string }; locals: App.Locals }) {
	const found = locals.bivvo.access.links.of(params.id).find(({ id }) => id === params.link);
	if (!found) throw refuse('gone', { what: 'link' });
	return found;
}

/** Makes it anew: whoever has the former one is out, and its secret is told this once. */
export const POST: RequestHandler = answering(async ({ params, locals }) => {
	const { access } = locals.bivvo;
	const former = linkOf({ params, locals });
	const made = await access.links.renew(former.id);
	await access.sessions.endAll('link', former.id);
	note(locals, 'linkMade', { name: former.name, role: former.role }, params.id);
	return json({ id: made!.link.id, secret: made!.secret });
});

export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	const { access } = locals.bivvo;
	const { id, name } = linkOf({ params, locals });
	await access.links.revoke(id);
	await access.sessions.endAll('link', id);
	note(locals, 'linkRevoked', { name }, params.id);
	return json({ ok: true });
});
