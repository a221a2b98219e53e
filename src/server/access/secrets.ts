/** Keys and passwords at rest: AES-256-GCM with a key that lies in the data folder, for this server's user only. */
import { createCipheriv, createDecipheriv, createHmac, randomBytes, randomUUID } from 'node:crypto';
import { link, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';

const IV_BYTES = 12;
const TAG_BYTES = 16;

/** Reads the key file, or makes it on the first start with mode 600. */
export async function openKeyFile(dataFolder: string): Promise<Buffer> {
	const file = path.join(dataFolder, 'secret.key');
	try {
		const key = Buffer.from(await readFile(file, 'utf8'), 'hex');
		if (key.length !== 32)
			throw new Error(`${file} is damaged: it holds ${key.length} bytes instead of 32. Restore it from a copy.`);
		return key;
	} catch (error) {
		if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
		const key = randomBytes(32);
		// Another node that starts just now finds it whole, or not at all.
		const written = `${file}.${randomUUID()}`;
		await writeFile(written, key.toString('hex'), { mode: 0o600 });
		try {
			await link(written, file);
		} catch (made) {
			// Another node was quicker.
			if ((made as NodeJS.ErrnoException).code === 'EEXIST') return openKeyFile(dataFolder);
			// Some file systems have one name for a file only.
			await rename(written, file);
		} finally {
			await rm(written, { force: true });
		}
		return key;
	}
}

/** Marks what is bound to something; what former versions sealed is bound to nothing. */
const BOUND = 'b.';

/**
 * Twelve random bytes, the tag and the encrypted text, in base64.
 * @param about what it is bound to, such as whose it is and where it goes: it opens with the same only
 */
export function seal(key: Buffer, text: string, about: string): string {
	const iv = randomBytes(IV_BYTES);
	const cipher = createCipheriv('aes-256-gcm', key, iv).setAAD(Buffer.from(about));
	const encrypted = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
	return BOUND + Buffer.concat([iv, cipher.getAuthTag(), encrypted]).toString('base64');
}

/** @throws when the text was changed, sealed with another key, or bound to something else */
export function unseal(key: Buffer, sealed: string, about: string): string {
	const isBound = sealed.startsWith(BOUND);
	const bytes = Buffer.from(isBound ? sealed.slice(BOUND.length) : sealed, 'base64');
	const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, IV_BYTES));
	if (isBound) decipher.setAAD(Buffer.from(about));
	decipher.setAuthTag(bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES));
	return Buffer.concat([decipher.update(bytes.subarray(IV_BYTES + TAG_BYTES)), decipher.final()]).toString('utf8');
}

/** True for what a former version has sealed. */
export function isUnbound(sealed: string): boolean {
	return !sealed.startsWith(BOUND);
}

/** A text that only who has the key can make of another one (HMAC-SHA-256), base64url. */
export function keyedHash(key: Buffer, text: string): string {
	return createHmac('sha256', key).update(text).digest('base64url');
}
