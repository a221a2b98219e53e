/** Messages of control surfaces: "MIDI 1.0 Detailed Specification", table I (channel voice messages), as bytes. */

/** Of a control surface: which of its controls, and how far it is. */
export interface Touched {
	control: Control;
	/** 0 to 1; of a pad 0 when it is let go. */
	position: number;
}

/** `note`: a pad or button; `change`: a fader, a knob or a button; `bend`: a fader of 14 bits. */
export const CONTROL_KINDS = ['note', 'change', 'bend'] as const;

export interface Control {
	is: (typeof CONTROL_KINDS)[number];
	/** 0 to 15. */
	channel: number;
	/** 0 to 127; 0 of a bend, which a channel has one of. */
	number: number;
}

const NOTE_OFF = 0x80;
const NOTE_ON = 0x90;
const CHANGE = 0xb0;
const BEND = 0xe0;
const MOST = 127;
const MOST_BEND = 0x3fff;

/** What a message says; null for one that is about no control. */
export function readMidi(bytes: Uint8Array): Touched | null {
	const [status = 0, first = 0, second = 0] = bytes;
	if (bytes.length < 3 || status < NOTE_OFF || first > MOST || second > MOST) return null;
	const [kind, channel] = [status & 0xf0, status & 0x0f];
	switch (kind) {
		case NOTE_ON:
			return { control: { is: 'note', channel, number: first }, position: second / MOST };
		case NOTE_OFF:
			return { control: { is: 'note', channel, number: first }, position: 0 };
		case CHANGE:
			return { control: { is: 'change', channel, number: first }, position: second / MOST };
		case BEND:
			return { control: { is: 'bend', channel, number: 0 }, position: (first + 128 * second) / MOST_BEND };
		default:
			return null;
	}
}

/** A message that brings a control to a position: lights a pad, moves a motor. */
export function writeMidi({ is, channel, number }: Control, position: number): Uint8Array<ArrayBuffer> {
	const part = Math.min(1, Math.max(0, position));
	if (is === 'bend') {
		const value = Math.round(part * MOST_BEND);
		return Uint8Array.of(BEND | channel, value & 0x7f, value >> 7);
	}
	return Uint8Array.of((is === 'note' ? NOTE_ON : CHANGE) | channel, number, Math.round(part * MOST));
}

export function isSameControl(a: Control, b: Control): boolean {
	return a.is === b.is && a.channel === b.channel && a.number === b.number;
}

/** As a key of a map. */
export function controlKey({ is, channel, number }: Control): string {
	return `${is} ${channel} ${number}`;
}
