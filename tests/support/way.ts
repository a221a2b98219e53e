import net, { type AddressInfo, type Socket } from 'node:net';

/** The way to the database, which can be cut: what a network or a restarting database does. */
export class Way {
	#server: net.Server;
	#sockets = new Set<Socket>();
	#cut = false;
	readonly #to: URL;
	/** Bytes that came from the database. */
	came = 0;
	/** Cuts when so many have come. */
	cutAt = Infinity;

	/** @param url of the database */
	constructor(url: string) {
		this.#to = new URL(url);
		this.#server = net.createServer((near) => {
			if (this.#cut) return near.destroy();
			const far = net.connect(Number(this.#to.port), '127.0.0.1');
			far.on('data', ({ length }) => {
				this.came += length;
				if (this.came >= this.cutAt) this.cut();
			});
			for (const [from, to] of [
				[near, far],
				[far, near],
			] as const) {
				this.#sockets.add(from);
				from.pipe(to);
				from.on('error', () => to.destroy());
				from.on('close', () => {
					this.#sockets.delete(from);
					to.destroy();
				});
			}
		});
	}

	/** @returns what leads to the database by this way */
	async open(): Promise<string> {
		await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
		const url = new URL(this.#to);
		url.port = String((this.#server.address() as AddressInfo).port);
		return url.href;
	}

	cut(): void {
		this.#cut = true;
		for (const socket of this.#sockets) socket.destroy();
	}

	mend(): void {
		this.#cut = false;
		this.cutAt = Infinity;
	}

	close(): void {
		this.cut();
		this.#server.close();
	}
}
