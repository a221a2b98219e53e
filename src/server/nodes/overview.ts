/** What an owner sees of the nodes: what each has to do, and which events it has. */
import { eq, gt } from 'drizzle-orm';
import { readBuild } from '../../core/nodes/build.ts';
import type { NodeShown } from '../../core/nodes/shown.ts';
import type { Db } from '../db/database.ts';
import { eventLeases, events } from '../db/schema.ts';
import { DATABASE_NOW } from './leases.ts';
import type { Registry } from './registry.ts';

/** @param db of the first organisation: events of others are only counted */
export async function overviewOf(registry: Registry, db: Db): Promise<NodeShown[]> {
	const owned = await db
		.select({ node: eventLeases.node, id: events.id, title: events.title, onAir: events.onAir })
		.from(eventLeases)
		.innerJoin(events, eq(events.id, eventLeases.eventId))
		.where(gt(eventLeases.expiresAt, DATABASE_NOW));
	// One that was started again has another id; what it was before is of no interest.
	const newest = registry.all.filter(
		({ id, url, seenMs }) =>
			!registry.all.some((other) => other.id !== id && other.url === url && other.seenMs < seenMs),
	);
	const builds = newest.map(({ version }) => readBuild(version));
	/** Where two builds have the same version, the time of each tells them apart. */
	const shownOf = (text: string) => {
		const { version, builtAt } = readBuild(text);
		const isOnlyBuild = builds.every((other) => other.version !== version || other.builtAt === builtAt);
		return { version, builtAt: isOnlyBuild ? null : builtAt };
	};
	return newest
		.map(({ id, url, version, startedAt, seenMs, isThere, emptying, load }) => ({
			...{ id, name: new URL(url).host, ...shownOf(version), startedAt, seenMs, isThere, emptying, load },
			isThis: id === registry.self.id,
			events: owned
				.filter(({ node }) => node === id)
				.map((event) => ({ id: event.id, title: event.title, onAir: event.onAir }))
				.toSorted((a, b) => Number(b.onAir) - Number(a.onAir) || a.title.localeCompare(b.title)),
		}))
		.toSorted((a, b) => Number(b.isThere) - Number(a.isThere) || a.name.localeCompare(b.name));
}
