import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import { pictureSchema } from '$core/show/event/picture.ts';
import { startSchema } from '$core/show/event/time-zone.ts';
import { answersSchema } from '$core/show/templates/template.ts';
import { createCopy, createEvent, createFromTemplate } from '$server/events.ts';
import { answering, bodyOf } from '../../answer.ts';
import type { RequestHandler } from './$types';

/** Events that one press makes at most: a year of weeks. */
const MOST_AT_ONCE = 53;

const makeSchema = v.object({
	from: v.variant('is', [
		v.object({ is: v.literal('template'), id: idSchema }),
		v.object({ is: v.literal('event'), id: idSchema }),
		v.object({ is: v.literal('nothing'), picture: pictureSchema }),
	]),
	answers: answersSchema,
	/** Starts of more events like it. */
	repeats: v.optional(v.pipe(v.array(startSchema), v.maxLength(MOST_AT_ONCE - 1)), () => []),
});

/** Makes an event, or several: of a template, like another event, or with nothing in it. */
export const POST: RequestHandler = answering(async ({ locals: { bivvo }, request }) => {
	const { from, answers, repeats } = await bodyOf(request, makeSchema);
	const ids: string[] = [];
	for (const startsAt of [answers.startsAt, ...repeats]) {
		const one = { ...answers, startsAt };
		if (from.is === 'template') ids.push(await createFromTemplate(bivvo, from.id, one));
		else if (from.is === 'event') ids.push(await createCopy(bivvo, from.id, one));
		else ids.push(await createEvent(bivvo, one.title, startsAt, from.picture, one.timeZone || undefined));
	}
	return json({ ids });
});
