// Apart from what guests read: each page of the crew loads these few sentences only.
import type { GuestFault } from '../../../core/show/troubles.ts';

/** What is wrong with a guest, and what to do. */
export function guestFaultWords(name: string, fault: GuestFault, lost: number, isLess: boolean): string {
	switch (fault) {
		case 'gone':
			return `${name}’s line is broken. It comes back by itself, to the same seat; take another scene meanwhile.`;
		case 'loses':
			return isLess
				? `${name}’s line loses ${Math.round(100 * lost)} % of its packets; the picture was made smaller.`
				: `${name}’s line loses ${Math.round(100 * lost)} % of its packets. Ask them to switch their camera off if they break up.`;
		case 'smaller':
			return `${name}’s line or machine takes no more: the picture is smaller than it should be. Ask them to close other programs.`;
		case 'frozen':
			return `${name}’s picture stands still, is black, or does not come. Ask them to switch their camera off and on, or take another scene.`;
		case 'echo':
			return `${name}’s microphone hears their loudspeaker: the program comes back. Ask them for headphones.`;
		case 'noSound':
			return `Nothing is heard of ${name}. Ask them, by a message, whether the right microphone is chosen.`;
		case 'tooLoud':
			return `${name} is too loud and distorts. Ask them to move away from the microphone.`;
	}
}
