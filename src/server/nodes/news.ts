/** What has changed in the database, told to other nodes that keep the same in memory. Of one organisation. */
import * as v from 'valibot';
import { log } from '../log.ts';
import type { Bus } from './bus.ts';

const AGAIN_MS = 1000;
const newsSchema = v.object({ id: v.string(), gone: v.boolean() });

/** @param id of the row that has changed @param gone true for one that is there no longer */
type Listener = (id: string, gone: boolean) => void;

export class News {
	readonly #bus: Pick<Bus, 'publish' | 'subscribe' | 'onGap'> | null;
	readonly #organisation: string;

	/** @param bus null on a server of one node, where nobody else is told @param organisation '' for the first */
	constructor(bus: Pick<Bus, 'publish' | 'subscribe' | 'onGap'> | null, organisation: string) {
		this.#bus = bus;
		this.#organisation = organisation;
	}

	/** False on a server of one node. */
	get hasOthers(): boolean {
		return this.#bus !== null;
	}

	#channel(what: string): string {
		return `news ${this.#organisation} ${what}`;
	}

	/** Tells all other nodes. @param what such as the name of a table */
	tell(what: string, id: string, gone = false): void {
		this.#bus?.publish(this.#channel(what), { id, gone });
	}

	/**
	 * @param listener told of each change that another node has made
	 * @param missed told when some may have been missed
	 */
	hear(what: string, listener: Listener, missed: () => void): void {
		this.#bus?.subscribe(this.#channel(what), (message) => {
			const read = v.safeParse(newsSchema, message);
			if (read.success) listener(read.output.id, read.output.gone);
			else missed();
		});
		this.#bus?.onGap(missed);
	}

	/** Lets something be read again whenever another node has changed it, one time after the other, until that succeeds. */
	follow(what: string, read: () => Promise<void>): void {
		let reading = false;
		let more = false;
		const again = () => {
			more = reading;
			if (reading) return;
			reading = true;
			read()
				.catch((error: unknown) => {
					log.warn({ err: error, what }, 'What another node has changed cannot be read yet');
					setTimeout(again, AGAIN_MS).unref();
				})
				.finally(() => {
					reading = false;
					if (more) again();
				});
		};
		this.hear(what, again, again);
	}
}

/** Of a server of one node. */
export const NO_NEWS = new News(null, '');
