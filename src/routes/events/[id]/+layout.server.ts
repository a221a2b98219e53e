import { roleOf } from '$core/access/roles.ts';
import type { LayoutServerLoad } from './$types';

/** What whoever looks at the page may do at this event. */
export const load: LayoutServerLoad = ({ params, locals: { admitted } }) => ({
	role: admitted.actor && roleOf(admitted.actor, params.id),
});
