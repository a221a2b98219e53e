/**
 * Login by challenge and response, as hosts that keep user names and passwords ask for it when they refuse a connect:
 * first for the name, then, with a salt and a challenge, for a proof of the password. Each time the publisher connects
 * anew, with its answer as a query behind the application's name.
 */

/** Name of the scheme on the wire. */
const SCHEME = 'authmod=adobe';
/** Of the host's side here; it need not be secret. */
const SALT = 'wool';
/** Challenges that wait for their answer; older ones are forgotten, so that nobody fills the memory with them. */
const MOST_GIVEN = 1000;

/** Base64 of the MD5 of a text as UTF-8. */
export type Digest = (text: string) => string;

export interface Login {
	user: string;
	password: string;
}

/** What a host wants proven; one of `challenge` and `opaque` may be empty. */
export interface Challenge {
	salt: string;
	challenge: string;
	opaque: string;
}

/** What a refusal of connect asks for: nothing, the name, a proof; or it says that the proof was wrong. */
export type Asked = null | 'name' | 'failed' | Challenge;

export function readRefusal(description: string): Asked {
	if (!description.includes(SCHEME)) return null;
	const query = /\?(\S*)/.exec(description)?.[1];
	const said = readQuery(query ?? '');
	if (said.get('reason') === 'needauth')
		return {
			salt: said.get('salt') ?? '',
			challenge: said.get('challenge') ?? '',
			opaque: said.get('opaque') ?? '',
		};
	if (said.has('reason')) return 'failed';
	return 'name';
}

/** Values of a query; they may hold equals signs, as Base64 does. */
function readQuery(query: string): Map<string, string> {
	return new Map(
		query.split('&').map((part) => {
			const [name = ''] = part.split('=', 1);
			return [name, decoded(part.slice(name.length + 1))];
		}),
	);
}

function decoded(text: string): string {
	try {
		return decodeURIComponent(text);
	} catch {
		return text;
	}
}

/** What proves that somebody knows the password. @param nonce of the publisher's own choice */
function proofOf(
	{ user, password }: Login,
	{ salt, challenge, opaque }: Challenge,
	nonce: string,
	md5: Digest,
): string {
	return md5(md5(user + salt + password) + (opaque || challenge) + nonce);
}

/** The query to connect with next. */
export function answerTo(asked: 'name' | Challenge, login: Login, nonce: string, md5: Digest): string {
	const name = `${SCHEME}&user=${encodeURIComponent(login.user)}`;
	if (asked === 'name') return name;
	const proof = proofOf(login, asked, nonce, md5);
	return `${name}&challenge=${nonce}&response=${proof}${asked.opaque ? `&opaque=${asked.opaque}` : ''}`;
}

/** The host's side: decides about a connect by what is behind its application's name. */
export class Challenger {
	#md5: Digest;
	#nonce: () => string;
	#given = new Set<string>();

	/** @param nonce makes letters and digits that nobody can guess */
	constructor(md5: Digest, nonce: () => string) {
		this.#md5 = md5;
		this.#nonce = nonce;
	}

	/** @returns null when the password was proven, else the description of the refusal */
	judge(query: string, login: Login): string | null {
		const said = readQuery(query);
		if (!query.includes(SCHEME)) return `[ AccessManager.Reject ] : [ code=403 need auth; ${SCHEME} ] : `;
		const opaque = said.get('opaque') ?? '';
		const response = said.get('response');
		if (response === undefined) {
			const given = this.#nonce();
			for (const oldest of this.#given) {
				if (this.#given.size < MOST_GIVEN) break;
				this.#given.delete(oldest);
			}
			this.#given.add(given);
			const asks = `reason=needauth&user=${encodeURIComponent(said.get('user') ?? '')}&salt=${SALT}&challenge=${given}&opaque=${given}`;
			return `[ AccessManager.Reject ] : [ ${SCHEME} ] : ?${asks}`;
		}
		// Each challenge is good for one answer.
		const known = this.#given.delete(opaque);
		const challenge = { salt: SALT, challenge: opaque, opaque };
		const proof = proofOf(login, challenge, said.get('challenge') ?? '', this.#md5);
		if (known && said.get('user') === login.user && response === proof) return null;
		return `[ AccessManager.Reject ] : [ ${SCHEME} ] : ?reason=authfailed&opaque=${opaque}`;
	}
}
