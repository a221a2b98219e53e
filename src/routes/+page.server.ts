import { mayUse } from '$core/access/policy.ts';
import { roleOf, type AnyRole } from '$core/access/roles.ts';
import { tally } from '$core/line-check/line-check.ts';
import { isOnAir } from '$core/show/state.ts';
import { sortEvents } from '$lib/plan/order.ts';
import type { Bivvo } from '$server/bivvo.ts';
import { listEvents } from '$server/events.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { bivvo, admitted } }) => {
	const all = await listEvents(bivvo.db);
	const events = all
		.map((event) => ({ ...event, role: roleOf(admitted.actor!, event.id) }))
		.filter(({ role }) => role !== null);
	const now = Date.now();
	const first = sortEvents(events, now).next;
	const mayMake = mayUse(roleOf(admitted.actor!, null), '/api/events', 'POST');
	const templates = mayMake ? await bivvo.templates.list() : [];
	return { events, now, templates, next: first && (await nextOf(bivvo, first, now)) };
};

/** How the event that comes next stands. */
async function nextOf(bivvo: Bivvo, { id, role }: { id: string; role: AnyRole | null }, now: number) {
	const room = await bivvo.events.ownRoom(id).catch(() => null);
	const state = room?.hub.state ?? (await bivvo.events.stateOf(id).catch(() => null));
	if (!state) return null;
	const seesCheck = room !== null && mayUse(role, '/events/[id]/check', 'GET');
	const counts = seesCheck ? tally(await room.checks.entries(now)) : null;
	return { id, counts, onAir: isOnAir(state) };
}
