import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { overviewOf } from '$server/nodes/overview.ts';
import { answering } from '../../answer.ts';
import type { RequestHandler } from './$types';

/** All nodes as they are now; null on a server of one. Only the owner of the first organisation may ask. */
export const GET: RequestHandler = answering(async ({ locals: { bivvo } }) => {
	const { first, cluster } = globalThis.organisations!;
	if (bivvo !== first) throw refuse('forbidden', { who: ['owner'] });
	return json({ nodes: cluster && (await overviewOf(cluster.registry, bivvo.db)) });
});
