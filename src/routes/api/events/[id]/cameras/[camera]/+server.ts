import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import type { CameraTold } from '$core/ingest/place.ts';
import { cameraPlace } from '$server/ingest/camera-places.ts';
import { answering, bodyOf } from '../../../../../answer.ts';
import { note } from '../../../../access/acting.ts';
import { cameraOf } from '../camera-of.ts';
import type { RequestHandler } from './$types';

/** Where a camera sends to, without its key. */
export const GET: RequestHandler = answering(async (event) => {
	const { cameraId } = await cameraOf(event);
	const { bivvo, admitted } = event.locals;
	const { cameraListener } = globalThis.organisations!;
	const told: CameraTold = {
		...cameraPlace(admitted.origin, bivvo.config.host, cameraListener),
		arrives: bivvo.cameras.arrives(cameraId),
		canStandIn: bivvo.config.standInRtmpPort !== null && cameraListener?.port != null,
	};
	return json(told, { headers: { 'Cache-Control': 'no-store' } });
});

const orderSchema = v.object({
	/** Hands out the key because somebody pressed "Show", or gives the camera another one. */
	key: v.picklist(['show', 'renew']),
});

/** Answers the camera's key. That this was done is written down; the key is not. */
export const POST: RequestHandler = answering(async (event) => {
	const { cameraId, name } = await cameraOf(event);
	const { cameras } = event.locals.bivvo;
	const { key: order } = await bodyOf(event.request, orderSchema);
	const key = order === 'renew' ? await cameras.renew(cameraId) : await cameras.keys.keyOf(cameraId);
	note(event.locals, order === 'renew' ? 'cameraKeyRenewed' : 'cameraKeyShown', { name }, event.params.id);
	return json({ key }, { headers: { 'Cache-Control': 'no-store' } });
});
