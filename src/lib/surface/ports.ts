/** Control surfaces that this machine has: by Web MIDI, and the one that is drawn on a page. */
import type { Input } from 'webmidi';
import { StandInPort } from './stand-in-port.ts';

/** One surface, both ways. */
export interface Port {
	readonly name: string;
	/** Told of each message. */
	onMessage: (bytes: Uint8Array) => void;
	send(bytes: Uint8Array): void;
	close(): void;
}

/** False in a browser that has no Web MIDI, and on a page that is not secure. */
export function canConnect(): boolean {
	return 'requestMIDIAccess' in navigator;
}

/** True when somebody has allowed it before: nobody is asked then. */
export async function isAllowed(): Promise<boolean> {
	const asked = await navigator.permissions?.query({ name: 'midi' as PermissionName }).catch(() => null);
	return asked?.state === 'granted';
}

/**
 * Opens all surfaces, those too that are connected later.
 * @param changed told of the ports there are now
 * @returns a function that closes them
 * @throws when the browser does not allow it
 */
export async function openPorts(changed: (ports: Port[]) => void): Promise<() => void> {
	// Only a desk with a surface pays for it.
	const { WebMidi } = await import('webmidi');
	await WebMidi.enable();
	let ports: Port[] = [];
	const read = () => {
		for (const port of ports) port.close();
		ports = WebMidi.inputs.map((input) =>
			portOf(
				input,
				WebMidi.outputs.find(({ name }) => name === input.name),
			),
		);
		changed(ports);
	};
	WebMidi.addListener('portschanged', read);
	read();
	return () => {
		WebMidi.removeListener('portschanged', read);
		for (const port of ports) port.close();
	};
}

function portOf(input: Input, output: { send(message: Uint8Array): unknown } | undefined): Port {
	const port: Port = {
		name: input.name.slice(0, 120) || '?',
		onMessage: () => {},
		send: (bytes) => void output?.send(bytes),
		close: () => input.removeListener('midimessage', tell),
	};
	const tell = ({ message }: { message: { rawData: Uint8Array } }) => port.onMessage(message.rawData);
	input.addListener('midimessage', tell);
	return port;
}

/** The surface that is drawn on a page of this event, if one is open. */
export function standInPort(eventId: string): Port {
	return new StandInPort(eventId, 'desk');
}
