/** By which the data folder of one node is told from those of others, after each start. */
import { randomUUID } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';

/** Reads the id of a folder, or gives it one. */
export async function folderId(folder: string): Promise<string> {
	const file = path.join(folder, 'node.id');
	const known = (await readFile(file, 'utf8').catch(() => '')).trim();
	if (/^[0-9a-f-]{36}$/.test(known)) return known;
	const id = randomUUID();
	await writeFile(file, `${id}\n`);
	return id;
}
