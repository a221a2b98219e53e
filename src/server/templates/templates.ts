/** The organisation's templates. Each change is a version of its own: events know which one they took. */
import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, isNull } from 'drizzle-orm';
import * as v from 'valibot';
import { refuse } from '../../core/refusal.ts';
import { openShow } from '../../core/show/stored.ts';
import type { ShowState } from '../../core/show/state.ts';
import { asksSchema, plainAsks, withoutEvening, type Asks } from '../../core/show/templates/template.ts';
import type { Db } from '../db/database.ts';
import { templates, templateVersions } from '../db/schema.ts';

export interface TemplateLine {
	id: string;
	name: string;
	version: number;
	asks: Asks;
	/** What a form needs to ask: names and last values of its fields, and the rest of what can be asked. */
	fields: { id: string; name: string; value: string }[];
	startsAt: string;
	hostTitle: string;
	hostDescription: string;
	changedAt: number;
}

export interface Template extends TemplateLine {
	show: ShowState;
}

export class Templates {
	readonly #db: Db;

	constructor(db: Db) {
		this.#db = db;
	}

	/** By name. */
	async list(): Promise<TemplateLine[]> {
		const rows = await this.#db
			.select()
			.from(templates)
			.where(isNull(templates.deletedAt))
			.orderBy(asc(templates.name), asc(templates.id));
		const all = await Promise.all(rows.map(({ id }) => this.find(id)));
		return all.flatMap((template) => {
			if (!template) return [];
			const { show: _, ...line } = template;
			return [line];
		});
	}

	/** @param version the newest when absent @returns null when there is none, or it cannot be read */
	async find(id: string, version?: number): Promise<Template | null> {
		const [row] = await this.#db.select().from(templates).where(eq(templates.id, id));
		if (!row) return null;
		const [kept] = await this.#db
			.select()
			.from(templateVersions)
			.where(
				and(
					eq(templateVersions.templateId, id),
					version === undefined ? undefined : eq(templateVersions.version, version),
				),
			)
			.orderBy(desc(templateVersions.version))
			.limit(1);
		if (!kept) return null;
		const { state } = openShow(id, row.name, kept.show);
		const { fields, startsAt, hostTitle, hostDescription } = state.setup;
		const asks = v.safeParse(asksSchema, row.asks);
		return {
			id,
			name: row.name,
			version: kept.version,
			asks: asks.success ? asks.output : plainAsks(state.setup),
			fields,
			startsAt,
			hostTitle,
			hostDescription,
			changedAt: kept.at,
			show: state,
		};
	}

	/** @throws {Refusal} when there is none */
	async get(id: string): Promise<Template> {
		const found = await this.find(id);
		if (!found) throw refuse('gone', { what: 'template' });
		return found;
	}

	/** Makes a template of an event; returns its id. */
	async make(name: string, asks: Asks, show: ShowState, id: string = randomUUID()): Promise<string> {
		await this.#db.insert(templates).values({ id, name, asks, deletedAt: null });
		await this.#keep(id, 1, show);
		return id;
	}

	/** Changes what it is called and asks for, or takes over the setup of an event as a new version, which it returns. */
	async change(id: string, change: { name?: string; asks?: Asks }, show: ShowState | null): Promise<number> {
		const { version } = await this.get(id);
		if (change.name !== undefined || change.asks !== undefined)
			await this.#db.update(templates).set(change).where(eq(templates.id, id));
		if (!show) return version;
		await this.#keep(id, version + 1, show);
		return version + 1;
	}

	/** Removes it for good. */
	async forget(id: string): Promise<void> {
		await this.#db.delete(templates).where(eq(templates.id, id));
	}

	/** Takes it out of the list, or puts it back. */
	async setDeleted(id: string, deleted: boolean): Promise<void> {
		await this.get(id);
		await this.#db
			.update(templates)
			.set({ deletedAt: deleted ? Date.now() : null })
			.where(eq(templates.id, id));
	}

	async #keep(templateId: string, version: number, { setup, ...rest }: ShowState): Promise<void> {
		const show = { ...rest, eventId: templateId, setup: withoutEvening(setup), live: {} };
		await this.#db.insert(templateVersions).values({ templateId, version, at: Date.now(), show });
	}
}
