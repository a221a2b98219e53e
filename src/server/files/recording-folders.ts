/**
 * Where recordings lie: in the data folder, or on another disk that an owner has chosen. A disk that is gone leaves an empty
 * folder behind where it was mounted, so the chosen folder has a mark by which it is known again. A disk may also not answer
 * at all: then it is gone, and nothing waits for it.
 */
import { constants } from 'node:fs';
import { access, mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { refuse } from '../../core/refusal.ts';

const MARK = '.bivvo-recordings';
/** A disk that has not answered by then is gone until it does. */
const ANSWERS_MS = 2000;

/** Folders that an owner chose, absolute. */
export interface ChosenFolders {
	/** Now; '' for none. */
	recordingsFolder: string;
	/** Before, where recordings still lie. */
	earlierFolders: readonly string[];
}

export class RecordingFolders {
	readonly #own: string;
	readonly #chosen: () => ChosenFolders;
	#isGone = false;
	/** Of a look that has no answer yet: others would wait behind it for nothing. */
	#looking: Promise<boolean> | null = null;

	/** @param own within the data folder */
	constructor(own: string, chosen: () => ChosenFolders) {
		this.#own = own;
		this.#chosen = chosen;
	}

	/** Looks whether the chosen disk is there. */
	async look(): Promise<void> {
		const { recordingsFolder: chosen } = this.#chosen();
		if (chosen === '') {
			this.#isGone = false;
			return;
		}
		this.#looking ??= isUsable(chosen).finally(() => (this.#looking = null));
		const isThere = await Promise.race([this.#looking, wait(ANSWERS_MS, false, { ref: false })]);
		if (this.#chosen().recordingsFolder === chosen) this.#isGone = !isThere;
	}

	/** Where what is recorded from now on lies, as far as the newest look knows. */
	get current(): string {
		const { recordingsFolder: chosen } = this.#chosen();
		return this.isElsewhere || chosen === '' ? this.#own : chosen;
	}

	/** True while the chosen disk is gone, or cannot be written to: recordings go to the data folder then. */
	get isElsewhere(): boolean {
		return this.#isGone && this.#chosen().recordingsFolder !== '';
	}

	/** All in which recordings may lie and that can be asked, where they are looked for in this order. */
	get all(): string[] {
		return [...new Set([this.current, this.#own, ...this.#chosen().earlierFolders])];
	}
}

async function isUsable(folder: string): Promise<boolean> {
	try {
		await access(folder, constants.W_OK);
		await access(path.join(folder, MARK));
		return true;
	} catch {
		return false;
	}
}

/**
 * Makes a folder one for recordings, and marks it as that.
 * @throws {Refusal} when it is no absolute path, or cannot be written to
 */
export async function takeFolder(folder: string): Promise<void> {
	if (!path.isAbsolute(folder) || path.normalize(folder) === path.parse(folder).root)
		throw refuse('folderUnusable', { folder, why: 'path' });
	try {
		// Its parent has to be there: a path that is typed wrongly is not made.
		await mkdir(folder, { recursive: false }).catch((error: NodeJS.ErrnoException) => {
			if (error.code !== 'EEXIST') throw error;
		});
		await writeFile(path.join(folder, MARK), 'This folder holds recordings of Bivvo.\n');
	} catch {
		throw refuse('folderUnusable', { folder, why: 'write' });
	}
}
