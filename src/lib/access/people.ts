/** What the owner's page shows. */
import type { Role } from '../../core/access/roles.ts';

export interface PersonShown {
	id: string;
	name: string;
	login: string;
	role: Role | null;
	roleAt: Record<string, Role>;
	hasPassword: boolean;
	hasSecondFactor: boolean;
	passkeys: number;
	/** When any of their browsers was seen last, milliseconds since 1970; null for never. */
	seenAt: number | null;
}
export interface DeviceShown {
	id: string;
	name: string;
	role: Role;
	eventId: string | null;
	seenAt: number | null;
}
export interface InvitationShown {
	id: string;
	name: string;
	role: Role | null;
	expiresAt: number;
}
export interface SessionShown {
	id: string;
	agent: string;
	address: string;
	seenAt: number;
	isThis: boolean;
}
export interface PasskeyShown {
	id: string;
	name: string;
	createdAt: number;
}
