import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema, nameSchema } from '$core/show/basics.ts';
import { asksSchema } from '$core/show/templates/template.ts';
import { noteTemplate } from '$server/events.ts';
import { answering, bodyOf } from '../../answer.ts';
import type { RequestHandler } from './$types';

const makeSchema = v.object({ name: nameSchema, eventId: idSchema, asks: asksSchema });

export const GET: RequestHandler = async ({ locals }) => json(await locals.bivvo.templates.list());

/** Makes a template of an event, which counts as made from it from then on. */
export const POST: RequestHandler = answering(async ({ locals: { bivvo }, request }) => {
	const { name, eventId, asks } = await bodyOf(request, makeSchema);
	const show = await bivvo.events.stateOf(eventId);
	const id = await bivvo.templates.make(name, asks, show);
	await bivvo.stills.copy(show.eventId, id);
	await noteTemplate(bivvo.db, show.eventId, id, 1);
	return json({ id });
});
