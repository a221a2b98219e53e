/** Saves a destination: for the organisation with its secrets, and for the events that have it without. */
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import * as v from 'valibot';
import { cleanKey, formatAddress, parseAddress } from '../../core/delivery/address.ts';
import { idSchema, nameSchema } from '../../core/show/basics.ts';
import { watchSchema } from '../../core/watch-page/place.ts';
import {
	destinationSchema,
	detailsSchema,
	webAddressSchema,
	type Details,
	type SavedDestination,
} from '../../core/show/delivery/destination.ts';
import { refuse } from '../../core/refusal.ts';
import { filled } from '../../core/show/event/fields.ts';
import type { Bivvo } from '../bivvo.ts';
import { listPlaces } from '../hosts/host-account.ts';
import { listSignedPlaces } from '../hosts/signed-account.ts';
import { accountOf } from '../broadcast/publisher.ts';
import type { Room } from '../live/room.ts';
import { partiesOf, savedOf, type DestinationSecret } from './saved-destinations.ts';

export const destinationFormSchema = v.object({
	id: idSchema,
	name: nameSchema,
	address: v.pipe(v.string(), v.maxLength(500)),
	/** Null leaves what is stored. */
	key: v.nullable(v.pipe(v.string(), v.maxLength(1000))),
	userName: v.pipe(v.string(), v.maxLength(200)),
	password: v.nullable(v.pipe(v.string(), v.maxLength(1000))),
	...v.pick(destinationSchema, ['keyLasts', 'maxHeight', 'maxKbps', 'maxFps', 'accountUrl']).entries,
});

type DestinationForm = v.InferOutput<typeof destinationFormSchema>;

/** @throws {Refusal} when its address is none */
export async function saveDestination(bivvo: Bivvo, room: Room, form: DestinationForm): Promise<void> {
	const parsed = parseAddress(form.address);
	if ('problem' in parsed) throw refuse('address', { problem: parsed.problem });
	const stored = await secretFor(bivvo, {
		id: form.id,
		address: formatAddress(parsed.address),
		accountUrl: form.accountUrl,
	});
	// A login written into the address goes where logins go: out of sight.
	const key = form.key === null ? stored.key : cleanKey(form.key);
	const password = parsed.login?.password ?? form.password ?? stored.password;
	const { id, name, keyLasts, maxHeight, maxKbps, maxFps, accountUrl } = form;
	const before = (await bivvo.destinations.list()).find((each) => each.id === id);
	const saved: SavedDestination = {
		id,
		name,
		address: formatAddress(parsed.address),
		userName: parsed.login?.user ?? form.userName.trim(),
		hasKey: key !== '',
		keyLasts,
		maxHeight,
		maxKbps,
		maxFps,
		accountUrl,
		signed: before?.signed ?? null,
		watch: before?.watch ?? null,
	};
	await keepDestination(bivvo, room, saved, { ...stored, key, password });
}

/**
 * What is stored of a destination's secrets, for where it leads from now on. A key that was typed for one host is never
 * sent to another, nor an access code to another account: they are asked for again.
 */
async function secretFor(
	{ destinations }: Bivvo,
	next: Pick<SavedDestination, 'id' | 'address' | 'accountUrl'>,
): Promise<DestinationSecret> {
	const stored = await destinations.secretOf(next.id);
	const before = (await destinations.list()).find(({ id }) => id === next.id);
	// Of one that nobody has told where it leads, nothing is given to whoever says so now.
	if (!before) return { key: '', password: '', token: '' };
	const [from, to] = [partiesOf(before), partiesOf(next)];
	const isSameHost = from.host === to.host;
	return {
		key: isSameHost ? stored.key : '',
		password: isSameHost ? stored.password : '',
		token: from.account === to.account ? stored.token : '',
	};
}

export const connectFormSchema = v.object({
	/** Of the account, without a place. */
	url: webAddressSchema,
	token: v.pipe(v.string(), v.trim(), v.minLength(1, 'The account has an access code. Paste it.'), v.maxLength(1000)),
	placeId: idSchema,
});

/** Makes a destination of a place of a connected account, planned for this event. @throws {Refusal} when it cannot be */
export async function connectDestination(
	bivvo: Bivvo,
	room: Room,
	{ url, token, placeId }: v.InferOutput<typeof connectFormSchema>,
): Promise<void> {
	const place = (await listPlaces(url, token, bivvo.destinations.reach)).find(({ id }) => id === placeId);
	if (!place) throw refuse('placeGone', {});
	const { title: own, startsAt, hostTitle, hostDescription, fields } = room.hub.state.setup;
	const title = filled(hostTitle, fields) || own;
	const details: Details = {
		title,
		description: filled(hostDescription, fields),
		visibility: 'public',
		plannedAt: startsAt,
		pictureId: null,
	};
	const { name, maxHeight, maxKbps } = place;
	const accountUrl = `${url.replace(/\/$/, '')}/${placeId}`;
	// A place that was connected before, perhaps for another event, stays one destination.
	const all = [...room.hub.state.setup.destinations, ...(await bivvo.destinations.list())];
	const known = all.find((each) => each.accountUrl === accountUrl);
	const saved = {
		...(known ? savedOf(known) : blank()),
		name,
		maxHeight,
		maxKbps,
		accountUrl,
		signed: null,
		watch: null,
	};
	const secret = await secretFor(bivvo, saved);
	await planAtHost(bivvo, room, saved, { ...secret, token }, details);
	await room.hub.submitAsServer({ type: 'tickDestination', destinationId: saved.id, ticked: true });
}

/** A destination that nothing is known of yet. */
function blank() {
	const id = randomUUID();
	return { id, address: '', userName: '', hasKey: false, keyLasts: false, maxFps: null, accountUrl: null };
}

export const watchFormSchema = v.object({
	id: idSchema,
	name: nameSchema,
	watch: watchSchema,
	/** Null leaves what is stored. */
	password: v.nullable(v.pipe(v.string(), v.maxLength(200))),
});

/** Saves a watch page, which is a destination like any other. @throws {Refusal} when its address is taken, or a password is missing */
export async function saveWatchPage(
	bivvo: Bivvo,
	room: Room,
	{ id, name, watch, password }: v.InferOutput<typeof watchFormSchema>,
): Promise<void> {
	if (isTakenAnywhere(watch.slug, id)) throw refuse('slugTaken', { slug: watch.slug });
	const stored = await bivvo.destinations.secretOf(id);
	const next = { ...stored, key: WATCH_KEY, password: password ?? stored.password };
	if (watch.access === 'password' && next.password === '') throw refuse('passwordMissing', {});
	const before = (await bivvo.destinations.list()).find((each) => each.id === id);
	const plain = { address: '', userName: '', keyLasts: true, accountUrl: null, signed: null };
	const limits = { maxHeight: before?.maxHeight ?? null, maxKbps: before?.maxKbps ?? null, maxFps: null };
	await keepDestination(bivvo, room, { id, name, hasKey: true, ...plain, ...limits, watch }, next);
}

/** Stands for a key: what this server sends itself needs none that anybody knows. */
const WATCH_KEY = 'watch';

/** Addresses of watch pages are those of the whole server. */
function isTakenAnywhere(slug: string, byOtherThan: string): boolean {
	return globalThis.organisations?.all.some(({ watch }) => watch.isTaken(slug, byOtherThan)) ?? false;
}

export const signedFormSchema = v.object({
	hostId: idSchema,
	placeIds: v.pipe(v.array(v.pipe(v.string(), v.maxLength(200))), v.minLength(1, 'placesNone'), v.maxLength(20)),
	details: detailsSchema,
});

/** What came of one place: null when it is planned there. */
export interface PlaceDone {
	name: string;
	failed: unknown;
}

/**
 * Plans this event at several places of a host that is signed in to; each is a destination, ticked. One that fails does not
 * hold up the others.
 * @throws {Refusal} when the host's places cannot be had
 */
export async function connectSigned(
	bivvo: Bivvo,
	room: Room,
	{ hostId, placeIds, details }: v.InferOutput<typeof signedFormSchema>,
): Promise<PlaceDone[]> {
	const { signIns } = bivvo.destinations;
	const places = await listSignedPlaces(signIns, hostId);
	const done: PlaceDone[] = [];
	for (const placeId of placeIds) {
		const place = places.find(({ id }) => id === placeId);
		if (!place) throw refuse('placeGone', {});
		const { name, maxHeight, maxKbps } = place;
		const all = [...room.hub.state.setup.destinations, ...(await bivvo.destinations.list())];
		const known = all.find(({ signed }) => signed !== null && signed.hostId === hostId && signed.placeId === placeId);
		const saved = {
			...(known ? savedOf(known) : blank()),
			name,
			maxHeight,
			maxKbps,
			signed: { hostId, placeId },
			watch: null,
		};
		try {
			await planAtHost(bivvo, room, saved, await secretFor(bivvo, saved), details);
			await room.hub.submitAsServer({ type: 'tickDestination', destinationId: saved.id, ticked: true });
			done.push({ name, failed: null });
		} catch (failed) {
			done.push({ name, failed });
		}
	}
	return done;
}

/** Sends the details of this event to a destination's host. @throws {Refusal} when that is not possible */
export async function sendDetails(bivvo: Bivvo, room: Room, id: string, details: Details): Promise<void> {
	const known = room.hub.state.setup.destinations.find((each) => each.id === id);
	if (!known) throw refuse('gone', { what: 'destination' });
	if (known.watch) return tellDetails(room, id, details, null);
	await planAtHost(bivvo, room, savedOf(known), await bivvo.destinations.secretOf(id), details);
}

/** The host answers with the address for this stream, which may differ from last week's. */
async function planAtHost(
	bivvo: Bivvo,
	room: Room,
	saved: SavedDestination,
	secret: DestinationSecret,
	details: Details,
): Promise<void> {
	const { reach, signIns } = bivvo.destinations;
	const before = room.hub.state.setup.destinations.find(({ id }) => id === saved.id);
	const signed = saved.signed && { ...saved.signed, broadcast: before?.hostBroadcast ?? null };
	const account = accountOf({ ...saved, ...secret, reach, signed, signIns });
	if (!account) throw refuse('noAccount', { name: saved.name });
	const picture = details.pictureId && (await bivvo.stills.read(room.hub.eventId, details.pictureId));
	const planned = await account.plan(details, picture || null);
	if (planned === null) return tellDetails(room, saved.id, details, signed?.broadcast ?? null);
	const { address, key, broadcast = null } = planned;
	const parsed = parseAddress(address);
	if ('problem' in parsed) throw refuse('hostAddress', { problem: parsed.problem });
	const userName = parsed.login?.user ?? saved.userName;
	const moved = { ...saved, address: formatAddress(parsed.address), userName, hasKey: true };
	const isSameHost = partiesOf(moved).host === partiesOf(saved).host;
	const password = parsed.login?.password ?? (isSameHost ? secret.password : '');
	await keepDestination(bivvo, room, moved, { ...secret, key, password });
	await tellDetails(room, saved.id, details, broadcast);
}

async function tellDetails({ hub }: Room, id: string, details: Details, hostBroadcast: string | null): Promise<void> {
	const known = hub.state.setup.destinations.find((each) => each.id === id)!;
	await hub.submitAsServer({ type: 'changeDestination', destination: { ...known, details, hostBroadcast } });
}

/** Stores a destination for the organisation and updates the event it was made in and all others that have it. */
export async function keepDestination(
	bivvo: Bivvo,
	room: Room,
	saved: SavedDestination,
	secret: DestinationSecret,
): Promise<void> {
	await bivvo.destinations.save(saved, secret);
	const { hub } = room;
	const there = hub.state.setup.destinations.some(({ id }) => id === saved.id);
	if (!there) await attach(hub, saved);
	for (const each of await bivvo.events.open()) {
		await alignDestinations(each, [saved]);
		const known = each.hub.state.setup.destinations.find(({ id }) => id === saved.id);
		if (known && (each !== room || there)) await each.keeper.renew(known, each.hub.state);
	}
}

/** Another node may have stored any of them anew: what an event sends goes where it leads now. */
export async function followDestinations(room: Room, saved: readonly SavedDestination[]): Promise<void> {
	await alignDestinations(room, saved);
	const { keeper, hub } = room;
	for (const known of hub.state.setup.destinations) await keeper.renewChanged(known, hub.state);
}

/** Adds a destination of the organisation to an event, ticked. @throws {Refusal} when it is there, or unknown */
export async function attachDestination(bivvo: Bivvo, room: Room, id: string): Promise<void> {
	const saved = (await bivvo.destinations.list()).find((each) => each.id === id);
	if (!saved) throw refuse('gone', { what: 'destination' });
	await attach(room.hub, saved);
}

function attach(hub: Room['hub'], saved: SavedDestination): Promise<void> {
	const destination = { ...saved, ticked: true, details: null, hostBroadcast: null };
	return hub.submitAsServer({ type: 'addDestination', destination });
}

/** Brings what an event knows of destinations in line with what the organisation keeps. */
export async function alignDestinations({ hub }: Room, saved: readonly SavedDestination[]): Promise<void> {
	for (const kept of saved) {
		const known = hub.state.setup.destinations.find(({ id }) => id === kept.id);
		if (!known || isDeepStrictEqual(savedOf(known), kept)) continue;
		await hub.submitAsServer({ type: 'changeDestination', destination: { ...known, ...kept } });
	}
}
