import { roleAnywhere } from '$core/access/roles.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { bivvo, admitted } }) => {
	const { people, passkeys, sessions } = bivvo.access;
	const actor = admitted.actor!;
	const me = { name: actor.name, kind: actor.kind, role: roleAnywhere(actor) };
	const person = actor.kind === 'person' ? people.get(actor.id) : null;
	if (!person) return { me, account: null, sessions: [] };
	return {
		me,
		account: {
			hasPassword: person.password !== null,
			hasSecondFactor: person.secondFactor !== null,
			passkeys: passkeys.of(person.id).map(({ id, name, createdAt }) => ({ id, name, createdAt })),
		},
		sessions: sessions
			.list('person', person.id)
			.map(({ id, agent, address, seenAt }) => ({ id, agent, address, seenAt, isThis: id === admitted.session?.id })),
	};
};
