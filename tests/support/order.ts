import type { PublishOrder } from '../../src/server/broadcast/connection.ts';
import { Reach } from '../../src/server/broadcast/reach.ts';

/** An order to send a stream somewhere, without login or account. */
export function orderTo(address: string, key: string, part: Partial<PublishOrder> = {}): PublishOrder {
	const nothing = { userName: '', password: '', accountUrl: null, token: '', reach: Reach.everywhere };
	return { id: 'one', name: 'One', address, key, ...nothing, ...part };
}
