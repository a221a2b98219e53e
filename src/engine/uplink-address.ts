/**
 * Where the uplink connects: straight to the node that has the event, where that can be reached, or else where the page
 * came from, which passes it on.
 */
export class UplinkAddress {
	readonly #usual: string;
	readonly #ask: (url: string) => Promise<string | null | undefined>;
	#isTried = false;
	#isInVain = false;

	/**
	 * @param usual of the page's own server, with a query
	 * @param ask tells another address with a query, null where there is none, undefined when the server could not be asked
	 */
	constructor(usual: string, ask = askServer) {
		this.#usual = usual;
		this.#ask = ask;
	}

	/** For the next connection. */
	async next(): Promise<string> {
		// A network may let nobody through to it.
		this.#isInVain ||= this.#isTried;
		if (this.#isInVain) return this.#usual;
		const { pathname, search, origin } = new URL(this.#usual);
		const url = `${origin.replace(/^ws/, 'http')}/api/events/${pathname.split('/').at(-1)}/uplink`;
		const address = await this.#ask(url);
		if (address === undefined) return this.#usual;
		// A page of https may not connect to a node that has none.
		this.#isInVain = address === null || (origin.startsWith('wss:') && !address.startsWith('wss:'));
		if (this.#isInVain) return this.#usual;
		this.#isTried = true;
		return `${address}&${search.slice(1)}`;
	}

	/** The last connection has come about. */
	opened(): void {
		this.#isTried = false;
	}
}

const PATIENCE_MS = 2000;

async function askServer(url: string): Promise<string | null | undefined> {
	try {
		const answer = await fetch(url, { method: 'POST', signal: AbortSignal.timeout(PATIENCE_MS) });
		return answer.ok ? ((await answer.json()) as { address: string | null }).address : undefined;
	} catch {
		return undefined;
	}
}
