/** Saves a destination: for the organisation with its secrets, and for the events that have it without. */
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import * as v from 'valibot';
import { cleanKey, formatAddress, parseAddress } from '../../core/delivery/address.ts';
import { idSchema, nameSchema } from '../../core/show/basics.ts';
import { destinationSchema, webAddressSchema, type Details, type SavedDestination } from '../../core/show/state.ts';
import type { Bivvo } from '../app.ts';
import { listPlaces } from '../broadcast/host-account.ts';
import { accountOf } from '../broadcast/publisher.ts';
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

export const connectFormSchema = v.object({
	/** Of the account, without a place. */
	url: webAddressSchema,
	token: v.pipe(v.string(), v.trim(), v.minLength(1, 'The account has an access code. Paste it.'), v.maxLength(1000)),
	placeId: idSchema,
});

/** Makes a destination of a place of a connected account, planned for this event. @returns why not, or null */
export async function connectDestination(
	bivvo: Bivvo,
	room: Room,
	{ url, token, placeId }: v.InferOutput<typeof connectFormSchema>,
): Promise<string | null> {
	const place = (await listPlaces(url, token)).find(({ id }) => id === placeId);
	if (!place) return 'The account has no such place any more.';
	const { title, startsAt } = room.hub.state;
	const details: Details = { title, description: '', visibility: 'public', plannedAt: startsAt };
	const { name, maxHeight, maxKbps } = place;
	const accountUrl = `${url.replace(/\/$/, '')}/${placeId}`;
	// A place that was connected before, perhaps for another event, stays one destination.
	const all = [...room.hub.state.destinations, ...(await bivvo.destinations.list())];
	const known = all.find((each) => each.accountUrl === accountUrl);
	const blank = { id: randomUUID(), address: '', userName: '', hasKey: false, maxFps: null };
	const saved = { ...(known ? savedOf(known) : blank), name, maxHeight, maxKbps, accountUrl };
	const secret = await bivvo.destinations.secretOf(saved.id);
	const problem = await planAtHost(bivvo, room, saved, { ...secret, token }, details);
	if (problem !== null) return problem;
	const ticks = { type: 'tickDestination' as const, destinationId: saved.id, ticked: true };
	return room.hub.submit('server', randomUUID(), ticks);
}

/** Tells the host of a destination what viewers are to know of this event. @returns why not, or null */
export async function sendDetails(bivvo: Bivvo, room: Room, id: string, details: Details): Promise<string | null> {
	const known = room.hub.state.destinations.find((each) => each.id === id);
	if (!known) return 'This destination is no longer there.';
	return planAtHost(bivvo, room, savedOf(known), await bivvo.destinations.secretOf(id), details);
}

/** The host answers where it takes the stream, which may be another place than last week's. */
async function planAtHost(
	bivvo: Bivvo,
	room: Room,
	saved: SavedDestination,
	secret: DestinationSecret,
	details: Details,
): Promise<string | null> {
	const account = accountOf({ ...saved, ...secret });
	if (!account) return `${saved.name} has no account that could be told.`;
	const { address, key } = await account.plan(details);
	const parsed = parseAddress(address);
	if ('problem' in parsed) return `The host gave an address that cannot be used. ${parsed.problem}`;
	const userName = parsed.login?.user ?? saved.userName;
	const password = parsed.login?.password ?? secret.password;
	const moved = { ...saved, address: formatAddress(parsed.address), userName, hasKey: true };
	const problem = await keepDestination(bivvo, room, moved, { ...secret, key, password });
	if (problem !== null) return problem;
	const known = room.hub.state.destinations.find(({ id }) => id === saved.id)!;
	return room.hub.submit('server', randomUUID(), { type: 'changeDestination', destination: { ...known, details } });
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
		if (known && (each !== room || there)) await each.keeper.renew(known, each.hub.state);
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
