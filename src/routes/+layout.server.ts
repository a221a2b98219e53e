import { roleAnywhere } from '$core/access/roles.ts';
import type { LayoutServerLoad } from './$types';

/** Who looks at the page. */
export const load: LayoutServerLoad = ({ locals: { admitted } }) => {
	const { actor } = admitted;
	return { me: actor && { name: actor.name, kind: actor.kind, role: roleAnywhere(actor), roleOfAll: actor.role } };
};
