import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../../answer.ts';
import { note } from '../../acting.ts';
import { rolesSchema } from '../../fields.ts';
import type { RequestHandler } from './$types';

const changeSchema = v.union([rolesSchema, v.object({ removed: v.boolean() })]);

/** Changes what a person is, takes the account away, or gives it back. */
export const PATCH: RequestHandler = answering(async ({ params, request, locals }) => {
	const { access } = locals.bivvo;
	const { people } = access;
	const change = await bodyOf(request, changeSchema);
	if ('removed' in change) {
		const name = people.get(params.person)?.name ?? '';
		if (change.removed) await people.remove(params.person);
		else await people.restore(params.person);
		if (change.removed) await access.sessions.endAll('person', params.person);
		note(locals, change.removed ? 'personRemoved' : 'personRestored', {
			name: name || people.get(params.person)?.name || '',
		});
		return json({ ok: true });
	}
	const person = people.get(params.person);
	if (!person) throw refuse('gone', { what: 'account' });
	await people.setRoles(person.id, change);
	access.changed('person', person.id);
	note(locals, 'roleChanged', { name: person.name, role: change.role ?? '' });
	return json({ ok: true });
});
