/** Asks a host whether it would take the stream: connects, asks to publish, and leaves before anything is sent. */
import type { SendFault } from '../../core/delivery/send-fault.ts';
import { addressOf, Connection, withoutSecrets, type PublishOrder } from './connection.ts';

/** @returns null when the host takes it, else why not */
export async function testDestination(order: PublishOrder): Promise<SendFault | null> {
	const found = addressOf(order);
	if ('fault' in found) return found.fault;
	let connection: Connection | null = null;
	const fault = await new Promise<SendFault | null>((resolve) => {
		const failed = (why: SendFault) => resolve(withoutSecrets(why, order));
		const events = { live: () => resolve(null), refused: failed, lost: failed };
		connection = new Connection(order, found.address, null, { lostFrames: 0 }, events);
	});
	await connection!.end();
	return fault;
}
