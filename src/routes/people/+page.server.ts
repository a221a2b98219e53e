import type { SessionKind } from '$server/access/sessions.ts';
import { listEvents } from '$server/events.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { bivvo } }) => {
	const { people, passkeys, devices, sessions } = bivvo.access;
	const seenAt = (kind: SessionKind, id: string) =>
		sessions.list(kind, id).reduce<number | null>((newest, each) => Math.max(newest ?? 0, each.seenAt), null);
	const shown = people.list().map(({ createdAt: _, ...person }) => ({
		...person,
		passkeys: passkeys.of(person.id).length,
		seenAt: seenAt('person', person.id),
	}));
	return {
		people: shown,
		invitations: people.invited.map(({ id, name, role, expiresAt }) => ({ id, name, role, expiresAt })),
		devices: devices
			.list()
			.map(({ id, name, role, eventId }) => ({ id, name, role, eventId, seenAt: seenAt('device', id) })),
		/** Null where this is not the first organisation, which alone makes others. */
		organisations: bivvo === globalThis.organisations!.first ? globalThis.organisations!.list : null,
		hasNodes: bivvo === globalThis.organisations!.first && globalThis.organisations!.cluster !== null,
		settings: bivvo.settings.now,
		events: (await listEvents(bivvo.db)).map(({ id, title }) => ({ id, title })),
	};
};
