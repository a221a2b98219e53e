import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answerTo, Challenger, readRefusal, type Login } from './challenge.ts';

const md5 = (text: string) => createHash('md5').update(text).digest('base64');
let count = 0;
const nonce = () => `nonce${count++}`;
const HOLLIN: Login = { user: 'hollin', password: 'carry-the-water' };

/** Goes through the whole exchange, as often as the host asks; returns what came of it. */
function logIn(challenger: Challenger, known: Login, given: Login): 'in' | 'failed' | 'asked too often' {
	let query = '';
	for (let round = 0; round < 4; round++) {
		const refusal = challenger.judge(query, known);
		if (refusal === null) return 'in';
		const asked = readRefusal(refusal);
		if (asked === null || asked === 'failed') return 'failed';
		query = answerTo(asked, given, nonce(), md5);
	}
	return 'asked too often';
}

describe('a login by challenge', () => {
	it('lets in whoever knows the password, whatever is in it, and nobody else', () => {
		const text = fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' });
		fc.assert(
			fc.property(text, text, text, (user, password, other) => {
				const challenger = new Challenger(md5, nonce);
				expect(logIn(challenger, { user, password }, { user, password })).toBe('in');
				if (other !== password) expect(logIn(challenger, { user, password }, { user, password: other })).toBe('failed');
				if (other !== user) expect(logIn(challenger, { user, password }, { user: other, password })).toBe('failed');
			}),
		);
	});

	it('proves the password with two digests, as hosts reckon it', () => {
		const asked = readRefusal(
			'[ Reject ] : [ authmod=adobe ] : ?reason=needauth&user=hollin&salt=S1=&challenge=C1&opaque=O1',
		);
		expect(asked).toEqual({ salt: 'S1=', challenge: 'C1', opaque: 'O1' });
		const first = createHash('md5').update('hollinS1=carry-the-water').digest('base64');
		const proof = createHash('md5').update(`${first}O1abcd`).digest('base64');
		expect(answerTo(asked as Exclude<typeof asked, null | 'failed'>, HOLLIN, 'abcd', md5)).toBe(
			`authmod=adobe&user=hollin&challenge=abcd&response=${proof}&opaque=O1`,
		);
		const without = { salt: 'S', challenge: 'C1', opaque: '' };
		expect(answerTo(without, HOLLIN, 'abcd', md5)).not.toContain('opaque');
		expect(answerTo(without, HOLLIN, 'abcd', md5)).not.toBe(
			answerTo({ ...without, challenge: 'C2' }, HOLLIN, 'abcd', md5),
		);
	});

	it('takes each challenge once, so that nobody gets in with what they have overheard', () => {
		const challenger = new Challenger(md5, nonce);
		const asked = readRefusal(challenger.judge('authmod=adobe&user=hollin', HOLLIN)!);
		const query = answerTo(asked as Exclude<typeof asked, null | 'failed'>, HOLLIN, 'abcd', md5);
		expect(challenger.judge(query, HOLLIN)).toBeNull();
		expect(readRefusal(challenger.judge(query, HOLLIN)!)).toBe('failed');
	});

	it('is not seen in other refusals', () => {
		expect(readRefusal('Ridge Channel does not know this key.')).toBeNull();
		expect(readRefusal('[ authmod=adobe ] : ?reason=nosuchuser')).toBe('failed');
		expect(readRefusal('[ code=403 need auth; authmod=adobe ] : ')).toBe('name');
	});
});
