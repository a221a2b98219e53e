/** Passkeys as browsers make and show them. */
import {
	browserSupportsWebAuthn,
	startAuthentication,
	startRegistration,
	type PublicKeyCredentialCreationOptionsJSON,
	type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser';
import { askServer } from '../ui/ask.ts';
import { access as words } from '../words/index.ts';

/** True where this browser can have them: on secure pages only. */
export function canHavePasskeys(): boolean {
	return window.isSecureContext && browserSupportsWebAuthn();
}

/** @returns a sentence when it did not work */
export async function signInWithPasskey(): Promise<string> {
	const asked = await askServer<PublicKeyCredentialRequestOptionsJSON>('/api/access/passkeys/ask', 'POST', {});
	if ('problem' in asked) return asked.problem;
	const response = await startAuthentication({ optionsJSON: asked.answer }).catch(() => null);
	if (!response) return words.passkeyNotMade;
	const result = await askServer('/api/access/passkeys/sign-in', 'POST', { response });
	return 'problem' in result ? result.problem : '';
}

/** @returns a sentence when it did not work */
export async function addPasskey(name: string): Promise<string> {
	const asked = await askServer<PublicKeyCredentialCreationOptionsJSON>('/api/access/passkeys/propose', 'POST', {});
	if ('problem' in asked) return asked.problem;
	const response = await startRegistration({ optionsJSON: asked.answer }).catch(() => null);
	if (!response) return words.passkeyNotMade;
	const result = await askServer('/api/access/passkeys', 'POST', { name, response });
	return 'problem' in result ? result.problem : '';
}
