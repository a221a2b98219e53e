/** The sentences for why a stream is not sent, or something is not recorded: what, and what to do. */
import type { SendFault, SendFaultCode, SendFaults } from '../../../core/delivery/send-fault.ts';
import type { WriteFault, WriteFaultCode, WriteFaults } from '../../../core/show/delivery/write-fault.ts';

const SENDING: { [C in SendFaultCode]: (about: SendFaults[C]) => string } = {
	noAddress: () => 'The server address cannot be used. Open the destination and enter it again.',
	noKey: () => 'No key is stored. Open the destination and paste its key.',
	unknownHost: ({ where }) =>
		`No host is known by the name in ${where}. Check the server address and this machine’s network.`,
	notListening: ({ where }) => `No streaming server answers at ${where}. Check the server address, or ask the host.`,
	unreachable: ({ where }) => `${where} cannot be reached. Check this machine’s network.`,
	outOfReach: ({ where }) =>
		`${where} is an address of the local network. The owner can allow it under People and devices.`,
	noAnswer: ({ where, seconds }) => `${where} did not answer within ${seconds} s.`,
	failed: ({ where, problem }) => `The connection to ${where} failed (${problem}).`,
	closed: () => 'The host closed the connection.',
	broken: () => 'The host broke the connection.',
	takesNothing: ({ seconds }) => `The host has taken nothing for ${seconds} s.`,
	unreadable: ({ problem }) => `The host’s answer could not be understood (${problem}).`,
	asksOnAndOn: () => 'The host keeps asking for the login. Ask it whether it is right.',
	loginWanted: () => 'The host wants a user name and a password.',
	loginWrong: () => 'The host does not know this user name and password.',
	refused: ({ asked }) => (asked === 'publish' ? 'The host refused the stream.' : `The host refused ${asked}.`),
	said: ({ words }) => words,
};

export function sendFaultWords({ code, about }: SendFault): string {
	return (SENDING[code] as (about: unknown) => string)(about);
}

const WRITING: { [C in WriteFaultCode]: (about: WriteFaults[C]) => string } = {
	diskFull: () => 'The disk is full.',
	diskNearlyFull: () => 'The disk is nearly full, so only the program goes on being recorded.',
	cannotWrite: ({ problem }) => `It cannot be written (${problem}).`,
	otherSize: () => 'Its picture has another size now; what came before is kept.',
};

export function writeFaultWords({ code, about }: WriteFault): string {
	return (WRITING[code] as (about: unknown) => string)(about);
}

/** Of the program's recording, for which something can be done. */
export function recordingFaultWords(fault: WriteFault): string {
	if (fault.code === 'diskFull')
		return 'The disk is full. Make room, and it goes on in a new file; the broadcast itself goes on.';
	const problem = fault.code === 'cannotWrite' ? fault.about.problem : fault.code;
	return `The recording cannot be written (${problem}). The broadcast itself goes on.`;
}
