/** What routes of people, devices and links share. */
import { json } from '@sveltejs/kit';
import type { AuditCode } from '$core/access/audit.ts';
import { refuse } from '$core/refusal.ts';
import type { Person } from '$server/access/people.ts';

/** An answer that signs somebody in or out. */
export function withCookie(body: object, cookie: string): Response {
	return json(body, { headers: { 'Set-Cookie': cookie } });
}

/** The person who is signed in. @throws {Refusal} for a device, a link, or whoever sits at the machine */
export function personOf({ bivvo, admitted }: App.Locals): Person {
	const { actor } = admitted;
	const person = actor?.kind === 'person' ? bivvo.access.people.get(actor.id) : null;
	if (!person) throw refuse('signInFirst', {});
	return person;
}

/** Writes down who has done something. */
export function note(
	{ bivvo, admitted }: App.Locals,
	code: AuditCode,
	about: Record<string, string> = {},
	eventId: string | null = null,
): void {
	const nobody = { kind: 'link' as const, id: '', name: '' };
	bivvo.access.audit.add(code, admitted.actor ?? nobody, admitted.address, about, eventId);
}
