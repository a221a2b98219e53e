import type { Value } from '../value.ts';

/** Words of the interface: cameras and encoders in the network. */
export const network = {
	heading: 'Cameras and encoders in the network',
	add: 'Add a network camera',
	addHint: 'It sends its picture here by RTMP or WHIP. You get an address and a key to type into it.',
	name: 'Network camera',
	numbered: (number: Value) => `Network camera ${number}`,
	typeIntoCamera: 'What to type into the camera',
	howItSends: 'How it sends',
	byRtmp: 'By RTMP: cameras, encoders',
	byWhip: 'By WHIP: browsers, newer encoders',
	address: 'Server address',
	addressEncrypted: 'Server address, encrypted',
	endpoint: 'WHIP address',
	streamKey: 'Stream key',
	bearerToken: 'Bearer token',
	showKey: 'Show its key',
	hideKey: 'Hide the key',
	keyIs: 'The key says which camera it is. Whoever has it can send in its place.',
	otherKey: 'Another key…',
	otherKeyMeans: 'The camera stops being received until the new key is typed into it.',
	otherKeySure: 'Make another key',
	cancel: 'Cancel',
	codeIs: 'Address and key as a QR code',
	scanCode: 'Phones and cameras that read codes take address and key from this.',
	onlyThisMachine:
		'Only programs on this machine can reach this address. Start Bivvo with BIVVO_HOST=0.0.0.0 to let cameras of the network in.',
	portTaken:
		'Another program has the port for RTMP. Close it, or choose another port with BIVVO_CAMERA_PORT, and start Bivvo again. WHIP works.',
	notToldWhere: 'The server cannot be reached. What to type is shown when it is back.',
	asking: 'Asking the server…',
	couldSend: 'The largest picture it could send',
	notKnown: 'Not known',
	sends: (size: Value) => `It sends ${size}.`,
	sendsLess: (size: Value, could: Value) =>
		`It sends ${size} and could send ${could}. Change its setting: the picture is scaled up.`,
	standInSend: 'Let the stand-in send',
	standInStop: 'Stop the stand-in',
	standInIs: 'Tower door: a made-up camera that sends here by RTMP.',
};
