/** A browser whose tabs are truly hidden when another is in front: pages that tests drive are always told to be visible. */
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { freePort } from '../command/settings.mjs';
import { CHROMIUM } from '../playwright.config.ts';
import { until } from '../tests/support/app.ts';

export class Tabs {
	readonly #child: ChildProcess;
	readonly #url: string;

	private constructor(child: ChildProcess, url: string) {
		this.#child = child;
		this.#url = url;
	}

	/** @param profile an empty folder, or none yet */
	static async open(profile: string): Promise<Tabs> {
		const port = await freePort();
		const args = [
			'--headless',
			`--remote-debugging-port=${port}`,
			`--user-data-dir=${profile}`,
			'--window-size=1280,800',
		];
		const child = spawn(CHROMIUM.executablePath, [...args, ...CHROMIUM.args, 'about:blank'], { stdio: 'ignore' });
		const tabs = new Tabs(child, `http://127.0.0.1:${port}/json`);
		const answers = () => fetch(`${tabs.#url}/version`).then(({ ok }) => ok);
		await until('the browser', () => answers().catch(() => false));
		return tabs;
	}

	get pid(): number {
		return this.#child.pid!;
	}

	/** A tab in front of the others. @returns its id */
	async add(address: string): Promise<string> {
		const answer = await fetch(`${this.#url}/new?${encodeURIComponent(address)}`, { method: 'PUT' });
		const { id } = (await answer.json()) as { id: string };
		await this.show(id);
		return id;
	}

	async show(id: string): Promise<void> {
		await fetch(`${this.#url}/activate/${id}`);
	}

	async close(): Promise<void> {
		const gone = once(this.#child, 'exit');
		this.#child.kill();
		await gone;
	}
}
