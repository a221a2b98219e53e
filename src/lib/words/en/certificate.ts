import type { Value } from '../value.ts';

/** Words of the interface: what a device asks of the server's own certificate. */
export const certificate = {
	title: 'What a tablet asks the first time',
	link: 'What the device will ask',
	nothing: 'Nothing. This server has no certificate of its own: devices that can open its pages trust them already.',
	why: (address: Value) =>
		`A device that opens ${address} for the first time says that the connection is not private. It says so because this server made its certificate itself, and nobody else vouches for it. The connection is encrypted all the same.`,
	compare:
		'To be sure that it is this server, open the details of the certificate on the device. Its SHA-256 fingerprint has to be this one. Read it here, not on the device:',
	goOn: 'If it is, go on:',
	browsers: [
		['Safari', '“Show Details”, then “visit this website”'],
		['Chrome and Edge', '“Advanced”, then “Proceed to”'],
		['Firefox', '“Advanced”, then “Accept the Risk and Continue”'],
	],
	otherwise: 'If it is another one, close the page: somebody stands between the device and this server.',
	never:
		'The device asks once. It asks nothing when whoever looks after this server gives it a certificate of the house (BIVVO_TLS_CERT and BIVVO_TLS_KEY).',
} as const;
