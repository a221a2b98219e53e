import { fail, redirect } from '@sveltejs/kit';
import * as v from 'valibot';
import { roleOf } from '$core/access/roles.ts';
import { nameSchema } from '$core/show/basics.ts';
import { pictureSchema } from '$core/show/event/picture.ts';
import { createEvent, listEvents } from '$server/events.ts';
import type { Actions, PageServerLoad } from './$types';
import { fieldWords } from '$lib/words/index.ts';

const formSchema = v.object({
	title: nameSchema,
	startsAt: v.pipe(v.string(), v.regex(/^$|^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'The start is a date and a time.')),
	picture: pictureSchema,
});

export const load: PageServerLoad = async ({ locals: { bivvo, admitted } }) => {
	const events = await listEvents(bivvo.db);
	const roles = events.map((event) => ({ ...event, role: roleOf(admitted.actor!, event.id) }));
	return { events: roles.filter(({ role }) => role !== null) };
};

export const actions: Actions = {
	default: async ({ request, locals }) => {
		const form = await request.formData();
		const [width, height] = String(form.get('size')).split('x').map(Number);
		const title = String(form.get('title') ?? '');
		const startsAt = String(form.get('startsAt') ?? '');
		const wanted = { title, startsAt, picture: { width, height, fps: Number(form.get('fps')) } };
		const checked = v.safeParse(formSchema, wanted);
		if (!checked.success) return fail(400, { problem: fieldWords(checked.issues[0].message), title, startsAt });
		const id = await createEvent(locals.bivvo, checked.output.title, startsAt, checked.output.picture);
		redirect(303, `/events/${id}`);
	},
};
