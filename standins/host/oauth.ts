/**
 * The stand-in host's OAuth 2.0: a page on which somebody allows or refuses, codes to be typed, tokens that end, are renewed
 * and are taken back (RFC 6749, 7636, 8628, 7009). One person has one account here.
 */
import { createHash, randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';

export const CLIENT_ID = 'bivvo-at-hollin';
/** Access tokens are good for so long, seconds. */
const TOKEN_S = Number(process.env.BIVVO_STANDIN_TOKEN_S ?? 3600);
const CODE_S = 60;
const DEVICE_S = 600;
const INTERVAL_S = 1;
const MOST_BODY_BYTES = 16_384;

interface Grant {
	challenge: string;
	redirectUri: string;
	endsAt: number;
}

interface Device {
	userCode: string;
	state: 'waits' | 'allowed' | 'refused';
	askedAt: number;
	endsAt: number;
}

/** What a test, or somebody at the console, makes the host do. */
export interface Mood {
	/** So many requests to the programming interface are answered with 429, and the seconds that are to be waited. */
	busy: { times: number; seconds: number };
	/** Nothing of it answers. */
	isOut: boolean;
}

export class OAuthDesk {
	readonly #codes = new Map<string, Grant>();
	readonly #devices = new Map<string, Device>();
	readonly #access = new Map<string, number>();
	readonly #refresh = new Set<string>();
	mood: Mood = { busy: { times: 0, seconds: 1 }, isOut: false };
	/** How many tokens were given for a refresh token. */
	renewed = 0;

	/** True for a token that is good now. */
	admits(authorization: string | undefined): boolean {
		const token = /^Bearer (.+)$/.exec(authorization ?? '')?.[1] ?? '';
		return (this.#access.get(token) ?? 0) > Date.now();
	}

	/** Takes back all that was given. */
	takeBack(): void {
		this.#access.clear();
		this.#refresh.clear();
	}

	/** Ends all access tokens; they can be renewed. */
	expire(): void {
		this.#access.clear();
	}

	/** @param act behind `/oauth/` */
	async answer(request: IncomingMessage, response: ServerResponse, act: string): Promise<void> {
		const query = new URLSearchParams((request.url ?? '').split('?')[1]);
		const form = request.method === 'POST' ? new URLSearchParams(await bodyOf(request)) : query;
		const json = (status: number, body: object) =>
			void response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
		if (this.mood.isOut) return void response.writeHead(503).end();
		switch (`${request.method} ${act}`) {
			case 'GET authorize':
				return this.#ask(response, query);
			case 'POST decide':
				return this.#decide(response, form);
			case 'POST token':
				return this.#give(form, json);
			case 'POST device':
				return this.#beginDevice(request, form, json);
			case 'GET type':
				return page(response, 'Type the code', typeForm(''));
			case 'POST type':
				return this.#takeCode(response, form);
			case 'POST revoke': {
				const token = form.get('token') ?? '';
				this.#access.delete(token);
				this.#refresh.delete(token);
				return json(200, {});
			}
			case 'POST mood': {
				if (form.has('busy'))
					this.mood.busy = { times: Number(form.get('busy')), seconds: Number(form.get('seconds') ?? 1) };
				if (form.get('do') === 'expire') this.expire();
				if (form.get('do') === 'takeBack') this.takeBack();
				return json(200, { renewed: this.renewed });
			}
			default:
				return json(404, { message: 'There is no such thing here.' });
		}
	}

	#ask(response: ServerResponse, query: URLSearchParams): void {
		const redirect = query.get('redirect_uri') ?? '';
		const isWhole =
			query.get('response_type') === 'code' &&
			query.get('client_id') === CLIENT_ID &&
			query.get('code_challenge_method') === 'S256' &&
			(query.get('code_challenge') ?? '') !== '' &&
			URL.canParse(redirect);
		if (!isWhole) return page(response, 'This program asks wrongly', '<p>Nothing is allowed to it.</p>', 400);
		const kept = ['redirect_uri', 'state', 'code_challenge']
			.map((name) => `<input type="hidden" name="${name}" value="${escaped(query.get(name) ?? '')}">`)
			.join('');
		page(
			response,
			'Bivvo asks to stream as Hollin Fell Huts Association',
			`<form method="post" action="/oauth/decide">${kept}
				<button name="decision" value="allow">Allow</button> <button name="decision" value="refuse">Refuse</button></form>`,
		);
	}

	#decide(response: ServerResponse, form: URLSearchParams): void {
		const redirectUri = form.get('redirect_uri') ?? '';
		const back = new URL(redirectUri);
		back.searchParams.set('state', form.get('state') ?? '');
		if (form.get('decision') === 'allow') {
			const code = secret();
			const challenge = form.get('code_challenge') ?? '';
			this.#codes.set(code, { challenge, redirectUri, endsAt: Date.now() + 1000 * CODE_S });
			back.searchParams.set('code', code);
		} else back.searchParams.set('error', 'access_denied');
		response.writeHead(303, { Location: back.href }).end();
	}

	#give(form: URLSearchParams, json: (status: number, body: object) => void): void {
		const no = (error: string) => json(400, { error, error_description: `It was ${form.get('refresh_token') ?? ''}` });
		if (form.get('client_id') !== CLIENT_ID) return json(401, { error: 'invalid_client' });
		const type = form.get('grant_type');
		if (type === 'authorization_code') {
			const code = form.get('code') ?? '';
			const grant = this.#codes.get(code);
			// RFC 6749, section 4.1.2: a code is good once.
			this.#codes.delete(code);
			const isTheirs =
				grant &&
				grant.endsAt > Date.now() &&
				grant.redirectUri === form.get('redirect_uri') &&
				grant.challenge === challengeOf(form.get('code_verifier') ?? '');
			return isTheirs ? json(200, this.#tokens()) : no('invalid_grant');
		}
		if (type === 'refresh_token') {
			const token = form.get('refresh_token') ?? '';
			// Each is good once: the next one comes with the answer.
			if (!this.#refresh.delete(token)) return no('invalid_grant');
			this.renewed++;
			return json(200, this.#tokens());
		}
		if (type !== 'urn:ietf:params:oauth:grant-type:device_code') return no('unsupported_grant_type');
		const name = form.get('device_code') ?? '';
		const device = this.#devices.get(name);
		if (!device || device.endsAt < Date.now()) return no('expired_token');
		if (device.state === 'refused') return no('access_denied');
		if (device.state === 'waits') {
			const tooSoon = Date.now() - device.askedAt < 900 * INTERVAL_S;
			device.askedAt = Date.now();
			return no(tooSoon ? 'slow_down' : 'authorization_pending');
		}
		this.#devices.delete(name);
		json(200, this.#tokens());
	}

	#tokens(): object {
		const [access, refresh] = [secret(), secret()];
		this.#access.set(access, Date.now() + 1000 * TOKEN_S);
		this.#refresh.add(refresh);
		return { access_token: access, token_type: 'Bearer', expires_in: TOKEN_S, refresh_token: refresh };
	}

	#beginDevice(request: IncomingMessage, form: URLSearchParams, json: (status: number, body: object) => void): void {
		if (form.get('client_id') !== CLIENT_ID) return json(401, { error: 'invalid_client' });
		const code = secret();
		const userCode = randomBytes(3).toString('hex').toUpperCase();
		this.#devices.set(code, { userCode, state: 'waits', askedAt: 0, endsAt: Date.now() + 1000 * DEVICE_S });
		const place = `http://${request.headers.host}/oauth/type`;
		json(200, {
			...{ device_code: code, user_code: userCode, verification_uri: place },
			...{ expires_in: DEVICE_S, interval: INTERVAL_S },
		});
	}

	#takeCode(response: ServerResponse, form: URLSearchParams): void {
		const typed = (form.get('code') ?? '').trim().toUpperCase();
		const device = [...this.#devices.values()].find(({ userCode }) => userCode === typed);
		if (!device) return page(response, 'There is no such code', typeForm(typed), 400);
		device.state = form.get('decision') === 'allow' ? 'allowed' : 'refused';
		page(response, 'Done', '<p>You can close this page.</p>');
	}
}

function typeForm(code: string): string {
	return `<form method="post" action="/oauth/type"><label>Code <input name="code" value="${escaped(code)}"></label>
		<button name="decision" value="allow">Allow</button> <button name="decision" value="refuse">Refuse</button></form>`;
}

function page(response: ServerResponse, title: string, body: string, status = 200): void {
	response
		.writeHead(status, { 'Content-Type': 'text/html; charset=utf-8' })
		.end(`<!doctype html><html lang="en"><title>${title}</title><h1>${title}</h1>${body}</html>`);
}

/** RFC 7636, section 4.2. */
function challengeOf(verifier: string): string {
	return createHash('sha256').update(verifier).digest('base64url');
}

function secret(): string {
	return randomBytes(18).toString('base64url');
}

function escaped(text: string): string {
	return text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
}

async function bodyOf(request: IncomingMessage): Promise<string> {
	let text = '';
	for await (const part of request.setEncoding('utf8')) {
		text += part;
		if (text.length > MOST_BODY_BYTES) return '';
	}
	return text;
}
