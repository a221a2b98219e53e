/**
 * OAuth 2.0 with one host: the code grant with PKCE (RFC 6749, section 4.1; RFC 7636), the device grant (RFC 8628), refresh and
 * revocation (RFC 7009). Each request goes out as all do that somebody's address leads to.
 */
import * as oauth from 'oauth4webapi';
import type { HostProfile } from '../../core/hosts/profile.ts';
import type { Reach } from '../broadcast/reach.ts';
import { isProtected, request } from './request.ts';

export interface Tokens {
	accessToken: string;
	/** '' where the host gives none. */
	refreshToken: string;
	/** When the access token is good for nothing any more, milliseconds since 1970; null where the host does not say. */
	expiresAt: number | null;
}

/** A sign-in in a browser that has begun. */
export interface CodeAttempt {
	url: string;
	state: string;
	verifier: string;
}

export interface DeviceAttempt {
	userCode: string;
	url: string;
	deviceCode: string;
	/** Milliseconds between two questions; and when the code is good for nothing any more, since 1970. */
	intervalMs: number;
	expiresAt: number;
}

const FIRST_INTERVAL_S = 5;
const MOST_LETTERS = 4000;

/** The host has said no. `code` is its own (RFC 6749, sections 4.1.2.1 and 5.2; RFC 8628, section 3.5). */
export class HostRefuses extends Error {
	readonly code: string;

	constructor(code: string) {
		super(code);
		this.name = 'HostRefuses';
		this.code = code;
	}
}

export class OAuthHost {
	readonly #profile: HostProfile;
	readonly #reach: Reach;
	readonly #server: oauth.AuthorizationServer;
	readonly #client: oauth.Client;
	readonly #auth: oauth.ClientAuth;

	constructor(profile: HostProfile, reach: Reach) {
		this.#profile = profile;
		this.#reach = reach;
		const { authorizationUrl, tokenUrl, deviceUrl, revokeUrl, clientId, clientSecret } = profile;
		this.#server = {
			issuer: new URL(tokenUrl).origin,
			token_endpoint: tokenUrl,
			...(authorizationUrl && { authorization_endpoint: authorizationUrl }),
			...(deviceUrl && { device_authorization_endpoint: deviceUrl }),
			...(revokeUrl && { revocation_endpoint: revokeUrl }),
		};
		this.#client = { client_id: clientId };
		this.#auth = clientSecret === '' ? oauth.None() : oauth.ClientSecretPost(clientSecret);
	}

	get #options() {
		const reach = this.#reach;
		return {
			// What may be asked without TLS is this machine alone, and that is looked at with each request.
			[oauth.allowInsecureRequests]: true,
			[oauth.customFetch]: async (
				url: string,
				{ method, headers, body }: oauth.CustomFetchOptions<string, unknown>,
			) => {
				const told = await request(new URL(url), reach, {
					method,
					headers: Object.fromEntries(Object.entries(headers as Record<string, string>)),
					body: body === undefined || body === null ? undefined : String(body as URLSearchParams),
				});
				const type = String(told.headers['content-type'] ?? '');
				const isEmpty = told.status === 204 || told.status === 304;
				return new Response(isEmpty ? null : told.text, { status: told.status, headers: { 'content-type': type } });
			},
		};
	}

	/** @param redirectUri where the host sends the browser back to. @throws with a sentence */
	async begin(redirectUri: string): Promise<CodeAttempt> {
		const { authorizationUrl, clientId, scope } = this.#profile;
		const url = new URL(authorizationUrl!);
		if (!isProtected(url, this.#reach)) throw new Error('The host’s sign-in page is opened by https only.');
		const [verifier, state] = [oauth.generateRandomCodeVerifier(), oauth.generateRandomState()];
		const challenge = await oauth.calculatePKCECodeChallenge(verifier);
		const asked = {
			...{ response_type: 'code', client_id: clientId, redirect_uri: redirectUri, state },
			...{ code_challenge: challenge, code_challenge_method: 'S256' },
			...(scope !== '' && { scope }),
		};
		for (const [name, value] of Object.entries(asked)) url.searchParams.set(name, value);
		return { url: url.href, state, verifier };
	}

	/** @param answer what the browser came back with. @throws {HostRefuses} when somebody has said no */
	finish(answer: URLSearchParams, { state, verifier }: CodeAttempt, redirectUri: string): Promise<Tokens> {
		return refusing(async () => {
			const asked = oauth.validateAuthResponse(this.#server, this.#client, answer, state);
			const response = await oauth.authorizationCodeGrantRequest(
				...([this.#server, this.#client, this.#auth, asked, redirectUri, verifier] as const),
				this.#options,
			);
			return tokensOf(await oauth.processAuthorizationCodeResponse(this.#server, this.#client, response));
		});
	}

	/** Asks for a code that somebody types at the host. */
	beginDevice(): Promise<DeviceAttempt> {
		return refusing(async () => {
			const { scope } = this.#profile;
			const asked = new URLSearchParams(scope === '' ? {} : { scope });
			const response = await oauth.deviceAuthorizationRequest(
				...([this.#server, this.#client, this.#auth, asked] as const),
				this.#options,
			);
			const told = await oauth.processDeviceAuthorizationResponse(this.#server, this.#client, response);
			return {
				userCode: told.user_code.slice(0, 40),
				url: webAddress(told.verification_uri),
				deviceCode: told.device_code,
				intervalMs: 1000 * (told.interval ?? FIRST_INTERVAL_S),
				expiresAt: Date.now() + 1000 * told.expires_in,
			};
		});
	}

	/** @throws {HostRefuses} with `authorization_pending` while nobody has typed the code, `slow_down` when asked too often */
	pollDevice({ deviceCode }: DeviceAttempt): Promise<Tokens> {
		return refusing(async () => {
			const response = await oauth.deviceCodeGrantRequest(
				...([this.#server, this.#client, this.#auth, deviceCode] as const),
				this.#options,
			);
			return tokensOf(await oauth.processDeviceCodeResponse(this.#server, this.#client, response));
		});
	}

	/** @throws {HostRefuses} when what was given is taken back */
	refresh(refreshToken: string): Promise<Tokens> {
		return refusing(async () => {
			const response = await oauth.refreshTokenGrantRequest(
				...([this.#server, this.#client, this.#auth, refreshToken] as const),
				this.#options,
			);
			const tokens = tokensOf(await oauth.processRefreshTokenResponse(this.#server, this.#client, response));
			// RFC 6749, section 6: a new one only where the host changes it.
			return { ...tokens, refreshToken: tokens.refreshToken || refreshToken };
		});
	}

	/** Gives tokens back. A host that does not take them is no trouble. */
	async revoke({ accessToken, refreshToken }: Tokens): Promise<void> {
		if (this.#profile.revokeUrl === null) return;
		for (const token of [refreshToken, accessToken].filter((each) => each !== '')) {
			const response = await oauth
				.revocationRequest(this.#server, this.#client, this.#auth, token, this.#options)
				.catch(() => null);
			if (response) await oauth.processRevocationResponse(response).catch(() => {});
		}
	}
}

/** What the host's errors are as ours; its words are not shown, since it may quote what it was sent. */
async function refusing<T>(act: () => Promise<T>): Promise<T> {
	try {
		return await act();
	} catch (error) {
		if (error instanceof oauth.ResponseBodyError || error instanceof oauth.AuthorizationResponseError)
			throw new HostRefuses(error.error.slice(0, 60));
		if (error instanceof oauth.WWWAuthenticateChallengeError) throw new HostRefuses('invalid_client');
		if (error instanceof oauth.OperationProcessingError || error instanceof TypeError)
			throw new Error('The host’s sign-in answered something else.', { cause: error });
		throw error;
	}
}

function tokensOf({ access_token, refresh_token = '', expires_in }: oauth.TokenEndpointResponse): Tokens {
	if (access_token.length > MOST_LETTERS || refresh_token.length > MOST_LETTERS)
		throw new Error('The host’s sign-in answered something else.');
	const expiresAt = expires_in === undefined ? null : Date.now() + 1000 * expires_in;
	return { accessToken: access_token, refreshToken: refresh_token, expiresAt };
}

/** An address that a page may open. */
function webAddress(text: string): string {
	const url = URL.canParse(text) ? new URL(text) : null;
	if (!url || !['https:', 'http:'].includes(url.protocol))
		throw new Error('The host’s sign-in answered something else.');
	return url.href;
}
