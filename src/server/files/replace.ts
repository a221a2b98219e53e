/** Puts a file in the place of the only copy of something, so that a power cut leaves one of the two whole. */
import { open, rename } from 'node:fs/promises';
import path from 'node:path';

/**
 * @param newer a file in the same folder, written whole
 * @param file what it replaces
 */
export async function replaceWith(newer: string, file: string): Promise<void> {
	await synced(newer);
	await rename(newer, file);
	await synced(path.dirname(file));
}

/** Waits until a file, or the names in a folder, are on the disk itself. */
async function synced(target: string): Promise<void> {
	const handle = await open(target, 'r');
	try {
		await handle.sync();
	} finally {
		await handle.close();
	}
}
