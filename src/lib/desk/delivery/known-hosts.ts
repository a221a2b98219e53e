import type { SignInTold } from '../../../core/hosts/sign-in.ts';

/** Hosts that the organisation knows; null while the server does not answer. */
export async function knownHosts(): Promise<SignInTold[] | null> {
	const response = await fetch('/api/hosts').catch(() => null);
	return response?.ok ? ((await response.json()) as { hosts: SignInTold[] }).hosts : null;
}
