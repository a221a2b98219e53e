import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse } from '$core/refusal.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note } from '../../access/acting.ts';
import type { RequestHandler } from './$types';

const changeSchema = v.object({ emptying: v.nullable(v.picklist(['atEnd', 'now'])) });

/** Empties a node, or lets it take events again. Only the owner of the first organisation may. */
export const PUT: RequestHandler = answering(async ({ locals, params, request }) => {
	const { first, cluster } = globalThis.organisations!;
	if (locals.bivvo !== first) throw refuse('forbidden', { who: ['owner'] });
	const known = cluster?.registry.find(params.node);
	if (!cluster || !known) throw refuse('gone', { what: 'node' });
	const { emptying } = await bodyOf(request, changeSchema);
	await cluster.registry.setEmptying(known.id, emptying);
	note(locals, emptying === null ? 'nodeTakes' : 'nodeEmptied', { name: new URL(known.url).host });
	return json({});
});
