/** Passwords: what is asked of a new one, and argon2id (RFC 9106). */
import { hash, verify } from '@node-rs/argon2';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

export const LEAST_LETTERS = 12;
export const MOST_LETTERS = 200;
/** Of zxcvbn's scale from 0 to 4: as many guesses as somebody makes who has stolen the database. */
const LEAST_SCORE = 3;

/** Memory in KiB, passes and lanes of argon2id, as OWASP recommends first. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

const guesser = new ZxcvbnFactory({ dictionary: { ...dictionary }, graphs: adjacencyGraphs });

export type PasswordProblem = 'short' | 'long' | 'easy';

/**
 * Why a password is not taken; null when it is.
 * @param known what others know of the person, such as name and organisation
 */
export function passwordProblem(password: string, known: readonly string[]): PasswordProblem | null {
	if ([...password].length < LEAST_LETTERS) return 'short';
	if (password.length > MOST_LETTERS) return 'long';
	return guesser.check(password, [...known]).score < LEAST_SCORE ? 'easy' : null;
}

export function hashPassword(password: string): Promise<string> {
	return hash(password, COST);
}

/** A hash of no password. It takes as long to be compared as any other, so that nobody learns which accounts there are. */
const nobodys = hashPassword('');

/** @param stored null where there is no account, or it has no password: false, but no sooner */
export async function isPassword(stored: string | null, typed: string): Promise<boolean> {
	const isSame = await verify(stored ?? (await nobodys), typed.slice(0, MOST_LETTERS)).catch(() => false);
	return isSame && stored !== null;
}
