/** Files that are put where they belong. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { copyFile, mkdir, rename } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';

/** Moves a file, also to another disk; its folder is made. */
export async function setPlace(from: string, to: string): Promise<void> {
	await mkdir(path.dirname(to), { recursive: true });
	try {
		await rename(from, to);
	} catch (error) {
		if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
		const part = `${to}.part`;
		await copyFile(from, part);
		await rename(part, to);
	}
}

/** SHA-256 of what is in a file, in hexadecimal digits. */
export async function hashOfFile(file: string): Promise<string> {
	const hash = createHash('sha256');
	await pipeline(createReadStream(file), hash);
	return hash.digest('hex');
}
