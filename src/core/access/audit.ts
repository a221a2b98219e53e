/** What is written down of who did what, as codes with what their sentences need. Nothing secret is among it. */

export const AUDIT_CODES = [
	'ownerMade',
	'signedIn',
	'signInFailed',
	'signedOut',
	'passwordChanged',
	'secondFactorSet',
	'passkeyAdded',
	'passkeyRemoved',
	'invited',
	'joined',
	'roleChanged',
	'personRemoved',
	'personRestored',
	'sessionEnded',
	'devicePaired',
	'deviceRevoked',
	'linkMade',
	'cameraKeyShown',
	'cameraKeyRenewed',
	'linkUsed',
	'linkRevoked',
	'settingsChanged',
	'recordingsMoved',
	'keyRevealed',
	'destinationSaved',
	'destinationForgotten',
	'accountConnected',
	'hostAdded',
	'hostSignedIn',
	'hostRemoved',
	'destinationTested',
	'lineTested',
	'programTakenOver',
	'onAir',
	'offAir',
	'downloaded',
	'tokenMade',
	'tokenRevoked',
	'webhookMade',
	'webhookRemoved',
	'programActed',
	'organisationMade',
	'nodeEmptied',
	'nodeTakes',
	'exported',
	'imported',
] as const;

export type AuditCode = (typeof AUDIT_CODES)[number];

export interface AuditLine {
	/** Milliseconds since 1970. */
	at: number;
	code: AuditCode;
	actorKind: string;
	actorId: string;
	actorName: string;
	eventId: string | null;
	about: Record<string, string>;
	address: string;
}
