import { error } from '@sveltejs/kit';
import { overviewOf } from '$server/nodes/overview.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { bivvo } }) => {
	const { first, cluster } = globalThis.organisations!;
	if (bivvo !== first) error(404, 'Nodes are looked after by the owner of the first organisation.');
	return { nodes: cluster && (await overviewOf(cluster.registry, bivvo.db)) };
};
