import { roleAnywhere } from '$core/access/roles.ts';
import type { LayoutServerLoad } from './$types';

/** Who looks at the page. */
export const load: LayoutServerLoad = ({ locals: { admitted, bivvo } }) => {
	const { actor } = admitted;
	const { organisation } = bivvo.config;
	return {
		organisation,
		me: actor && { name: actor.name, kind: actor.kind, role: roleAnywhere(actor), roleOfAll: actor.role },
	};
};
