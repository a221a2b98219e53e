/** Secrets that travel: sealed with a key that is made of a passphrase (scrypt, RFC 7914). */
import { randomBytes, scrypt } from 'node:crypto';
import { promisify } from 'node:util';
import { refuse } from '../../core/refusal.ts';
import type { Bundle } from '../../core/bundle/bundle.ts';
import { seal, unseal } from '../access/secrets.ts';

const KEY_BYTES = 32;
const SALT_BYTES = 16;
/** A quarter of a second, and 128 MB, for each guess. */
const COST = { N: 131_072, r: 8, p: 1, maxmem: 256 * 1024 * 1024 };
const ABOUT = 'bivvo bundle';
const derive = promisify(scrypt) as (
	passphrase: string,
	salt: Buffer,
	bytes: number,
	options: typeof COST,
) => Promise<Buffer>;

type Sealed = NonNullable<Bundle['secrets']>;

export async function sealWith(passphrase: string, text: string): Promise<Sealed> {
	const salt = randomBytes(SALT_BYTES);
	const key = await derive(passphrase.normalize('NFKC'), salt, KEY_BYTES, COST);
	return { salt: salt.toString('base64'), sealed: seal(key, text, ABOUT) };
}

/** @throws {Refusal} when the passphrase is another one, or somebody has changed what was sealed */
export async function unsealWith(passphrase: string, { salt, sealed }: Sealed): Promise<string> {
	const key = await derive(passphrase.normalize('NFKC'), Buffer.from(salt, 'base64'), KEY_BYTES, COST);
	try {
		return unseal(key, sealed, ABOUT);
	} catch {
		throw refuse('passphrase', {});
	}
}
