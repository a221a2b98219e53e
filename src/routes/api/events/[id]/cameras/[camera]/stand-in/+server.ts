import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { answering } from '../../../../../../answer.ts';
import { cameraOf } from '../../camera-of.ts';
import type { RequestHandler } from './$types';

/** Lets the stand-in camera send in a camera's place; in the demo alone. */
export const POST: RequestHandler = answering(async (event) => {
	const { cameraId } = await cameraOf(event);
	const { bivvo } = event.locals;
	const port = globalThis.organisations!.cameraListener?.port ?? null;
	if (bivvo.config.standInRtmpPort === null || port === null) throw refuse('notFound', { what: 'source' });
	await bivvo.cameras.standIn(cameraId, bivvo.config.standInsFolder, port);
	return json({});
});

/** Ends that. */
export const DELETE: RequestHandler = answering(async (event) => {
	const { cameraId } = await cameraOf(event);
	event.locals.bivvo.cameras.endStandIn(cameraId);
	return json({});
});
