/** Saves a destination: its secrets to the vault, the rest to the show. */
import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { cleanKey, formatAddress, parseAddress } from '../../core/delivery/address.ts';
import { idSchema, nameSchema } from '../../core/show/basics.ts';
import { destinationSchema, type Destination } from '../../core/show/state.ts';
import type { Room } from '../live/room.ts';
import type { Secrets } from './secrets.ts';

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
export async function saveDestination(room: Room, secrets: Secrets, form: DestinationForm): Promise<string | null> {
	const parsed = parseAddress(form.address);
	if ('problem' in parsed) return parsed.problem;
	const { hub } = room;
	const old = hub.state.destinations.find(({ id }) => id === form.id);
	const stored = await secrets.get(hub.eventId, form.id);
	// A login written into the address goes where logins go: out of sight.
	const key = form.key === null ? stored.key : cleanKey(form.key);
	const password = parsed.login?.password ?? form.password ?? stored.password;
	await secrets.put(hub.eventId, form.id, { key, password });

	const destination: Destination = {
		id: form.id,
		name: form.name,
		address: formatAddress(parsed.address),
		userName: parsed.login?.user ?? form.userName.trim(),
		hasKey: key !== '',
		ticked: old?.ticked ?? true,
		maxHeight: form.maxHeight,
		maxKbps: form.maxKbps,
		maxFps: form.maxFps,
		accountUrl: form.accountUrl,
	};
	const command = old
		? { type: 'changeDestination' as const, destination }
		: { type: 'addDestination' as const, destination };
	const refused = await hub.submit('server', randomUUID(), command);
	if (refused === null && old) await room.keeper.renew(destination);
	return refused;
}
