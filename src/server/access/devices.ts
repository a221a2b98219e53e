/** Tablets and phones that were paired with a code: each has one role, at one event or all. */
import { randomUUID } from 'node:crypto';
import type { Role } from '../../core/access/roles.ts';
import { STATION_PAGES, type StationPage } from '../../core/line-check/facts.ts';
import { refuse } from '../../core/refusal.ts';
import type { Db } from '../db/database.ts';
import { devices } from '../db/schema.ts';
import { NO_NEWS } from '../nodes/news.ts';
import { differIn, Kept } from './kept.ts';
import { newCode, plainCode } from './tokens.ts';

/** A code is good for so long. */
export const CODE_MS = 2 * 60_000;
/** Wrong codes that are borne while one is shown; after that it is good for nothing. */
const MOST_WRONG = 5;
/** Codes that wait at a time. */
const MOST_WAITING = 20;

export type Device = typeof devices.$inferSelect;

/** The page that a device was paired for. @param opens as in `Pairing` */
export function pageFor(role: Role, opens: string): StationPage {
	const [page] = opens.split('/');
	const named = STATION_PAGES.find((each) => each === page);
	if (named) return named;
	if (role === 'sound') return 'mix';
	return role === 'words' ? 'words' : role === 'viewer' ? 'sheet' : 'desk';
}

/** What a code is for. */
export interface Pairing {
	code: string;
	role: Role;
	eventId: string | null;
	name: string;
	by: string;
	/** The page that it opens first; '' for the usual one of its role. */
	opens: string;
	until: number;
	/** Wrong codes that were tried since it is shown. */
	wrong: number;
}

export class Devices {
	readonly #kept: Kept<typeof devices>;
	#waiting: Pairing[] = [];

	private constructor(kept: Kept<typeof devices>) {
		this.#kept = kept;
	}

	static async open(db: Db, news = NO_NEWS): Promise<Devices> {
		return new Devices(await Kept.open(db, devices, news));
	}

	/** @param listener told of each that opens something else now, by another node's doing */
	onChanged(listener: (id: string) => void): void {
		this.#kept.onChanged = (before, now) => {
			if (differIn(['role', 'eventId', 'revokedAt'], before, now)) listener((now ?? before)!.id);
		};
	}

	/** Reads one that is not known here: another node may have made it a moment ago. */
	lookUp(id: string): Promise<void> {
		return this.#kept.lookUpId(id);
	}

	/** One that was not revoked. */
	get(id: string): Device | null {
		const device = this.#kept.get(id);
		return device && device.revokedAt === null ? device : null;
	}

	/** Those that were not revoked, the newest first. */
	list(): Device[] {
		const there = this.#kept.all.filter(({ revokedAt }) => revokedAt === null);
		return there.toSorted((a, b) => b.pairedAt - a.pairedAt);
	}

	/** Shows a code for a device to be. @param by who asks for it @param opens as in `Pairing` */
	offer(role: Role, eventId: string | null, name: string, by: string, opens = ''): Pairing {
		this.#forgetOld();
		const pairing = { code: newCode(), role, eventId, name, by, opens, until: Date.now() + CODE_MS, wrong: 0 };
		this.#waiting = [...this.#waiting.slice(-MOST_WAITING + 1), pairing];
		return pairing;
	}

	/** True while a code waits for its device. */
	waits(code: string): boolean {
		this.#forgetOld();
		return this.#waiting.some((each) => each.code === code);
	}

	withdraw(code: string): void {
		this.#waiting = this.#waiting.filter((each) => each.code !== code);
	}

	/** Makes the device that a code is for. A code is used once. @throws {Refusal} when it is none */
	async pair(typed: string): Promise<Device & Pick<Pairing, 'opens'>> {
		this.#forgetOld();
		const code = plainCode(typed);
		const found = this.#waiting.find((each) => each.code === code);
		if (!found) {
			for (const each of this.#waiting) each.wrong++;
			throw refuse('codeWrong', {});
		}
		this.withdraw(code);
		const { name, role, eventId, by, opens } = found;
		const device = {
			id: randomUUID(),
			name,
			role,
			eventId,
			opens,
			pairedAt: Date.now(),
			pairedBy: by,
			revokedAt: null,
		};
		return { ...(await this.#kept.add(device)), opens };
	}

	async revoke(id: string): Promise<void> {
		await this.#kept.change(id, { revokedAt: Date.now() });
	}

	#forgetOld(): void {
		this.#waiting = this.#waiting.filter(({ until, wrong }) => until > Date.now() && wrong < MOST_WRONG);
	}
}
