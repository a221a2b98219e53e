/** Saves a destination: for the organisation with its secrets, and for the events that have it without. */
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import * as v from 'valibot';
import { cleanKey, formatAddress, parseAddress } from '../../core/delivery/address.ts';
import { idSchema, nameSchema } from '../../core/show/basics.ts';
import { destinationSchema, type SavedDestination } from '../../core/show/state.ts';
import type { Bivvo } from '../app.ts';
import type { Room } from '../live/room.ts';
import { savedOf, type DestinationSecret } from './saved-destinations.ts';

export const destinationFormSchema = v.object({
	id: idSchema,
	name: nameSchema,
	address: v.pipe(v.string(), v.maxLength(500)),
	/** Null leaves what is stored. */
	key: v.nullable(v.pipe(v.string(), v.maxLength(1000))),
	userName: v.pipe(v.string(), v.maxLength(200)),
	password: v.nullable(v.pipe(v.string(), v.maxLength(1000))),
	...v.pick(destinationSchema, ['maxHeight', 'maxKbps', 'maxFps', 'accountUrl']).entries,
});

type DestinationForm = v.InferOutput<typeof destinationFormSchema>;

/** @returns null when it is saved, else a sentence that says what is wrong */
export async function saveDestination(bivvo: Bivvo, room: Room, form: DestinationForm): Promise<string | null> {
	const parsed = parseAddress(form.address);
	if ('problem' in parsed) return parsed.problem;
	const stored = await bivvo.destinations.secretOf(form.id);
	// A login written into the address goes where logins go: out of sight.
	const key = form.key === null ? stored.key : cleanKey(form.key);
	const password = parsed.login?.password ?? form.password ?? stored.password;
	const { id, name, maxHeight, maxKbps, maxFps, accountUrl } = form;
	const saved: SavedDestination = {
		id,
		name,
		address: formatAddress(parsed.address),
		userName: parsed.login?.user ?? form.userName.trim(),
		hasKey: key !== '',
		maxHeight,
		maxKbps,
		maxFps,
		accountUrl,
	};
	return keepDestination(bivvo, room, saved, { ...stored, key, password });
}

/** Keeps a destination for the organisation, and tells the event it was made in and all others that have it. */
export async function keepDestination(
	bivvo: Bivvo,
	room: Room,
	saved: SavedDestination,
	secret: DestinationSecret,
): Promise<string | null> {
	await bivvo.destinations.save(saved, secret);
	const { hub } = room;
	const there = hub.state.destinations.some(({ id }) => id === saved.id);
	const added = { type: 'addDestination' as const, destination: { ...saved, ticked: true, details: null } };
	const refused = there ? null : await hub.submit('server', randomUUID(), added);
	if (refused !== null) return refused;
	for (const each of await bivvo.openRooms()) {
		await alignDestinations(each, [saved]);
		const known = each.hub.state.destinations.find(({ id }) => id === saved.id);
		if (known && (each !== room || there)) await each.keeper.renew(known);
	}
	return null;
}

/** Brings what an event knows of destinations in line with what the organisation keeps. */
export async function alignDestinations({ hub }: Room, saved: readonly SavedDestination[]): Promise<void> {
	for (const kept of saved) {
		const known = hub.state.destinations.find(({ id }) => id === kept.id);
		if (!known || isDeepStrictEqual(savedOf(known), kept)) continue;
		await hub.submit('server', randomUUID(), { type: 'changeDestination', destination: { ...known, ...kept } });
	}
}
