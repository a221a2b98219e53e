import { GUEST, roleAnywhere, ROLES, type AnyRole } from '$core/access/roles.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ url, locals: { admitted } }) => {
	const named = (url.searchParams.get('who') ?? '').split(',');
	const all: AnyRole[] = [...ROLES, GUEST];
	const who = all.filter((role) => named.includes(role));
	return { who, me: admitted.actor && { name: admitted.actor.name, role: roleAnywhere(admitted.actor) } };
};
