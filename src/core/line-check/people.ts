/** Who has to be there: guests by their links, and the phones, tablets and screens that were paired for the evening. */
import { seatsFor } from '../show/guests/guest.ts';
import type { Add, Known } from './known.ts';

export function checkPeople({ show, links, guests, devices, stations, now }: Known, add: Add): void {
	// Without seats nobody comes.
	const invited = links.filter(({ isGuest }) => isGuest && seatsFor(show).length > 0);
	for (const { id, name, expiresAt, usesLeft, uses } of invited) {
		const isHere = guests.some((guest) => guest.id === id && guest.isThere);
		const mend = { does: 'open', page: 'guests' } as const;
		if (isHere) add(`guest ${id}`, 'good', { is: 'guest', name, here: true }, { at: now });
		else if (expiresAt <= now)
			add(`guest ${id}`, 'wrong', { is: 'guestLink', name, why: 'expired' }, { at: now, mend });
		else if (usesLeft === 0 && uses === 0)
			add(`guest ${id}`, 'wrong', { is: 'guestLink', name, why: 'usedUp' }, { at: now, mend });
		else add(`guest ${id}`, 'unseen', { is: 'guest', name, here: false }, { mend });
	}
	for (const { id, name, page } of devices) {
		const here = stations.some(({ deviceId }) => deviceId === id);
		add(
			`device ${id}`,
			here ? 'good' : 'unseen',
			{ is: 'device', name, page, here },
			{
				at: here ? now : null,
				mend: here ? null : { does: 'pair' },
			},
		);
	}
}
