import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema, nameSchema } from '$core/show/basics.ts';
import { asksSchema } from '$core/show/templates/template.ts';
import { noteTemplate } from '$server/events.ts';
import { answering, bodyOf } from '../../../answer.ts';
import type { RequestHandler } from './$types';

const changeSchema = v.object({
	name: v.optional(nameSchema),
	asks: v.optional(asksSchema),
	/** The event whose setup it takes over. */
	eventId: v.optional(idSchema),
	/** False brings back one that was removed. */
	deleted: v.optional(v.literal(false)),
});

export const PUT: RequestHandler = answering(async ({ locals: { bivvo }, params: { template }, request }) => {
	const { eventId, deleted, ...change } = await bodyOf(request, changeSchema);
	if (deleted === false) await bivvo.templates.setDeleted(template, false);
	const show = eventId === undefined ? null : await bivvo.events.stateOf(eventId);
	const version = await bivvo.templates.change(template, change, show);
	if (show) {
		await bivvo.stills.copy(show.eventId, template);
		await noteTemplate(bivvo.db, show.eventId, template, version);
	}
	return json({ version });
});

export const DELETE: RequestHandler = answering(async ({ locals, params }) => {
	await locals.bivvo.templates.setDeleted(params.template, true);
	return json({});
});
