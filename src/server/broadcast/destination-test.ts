/** Asks a host whether it would take the stream: connects, asks to publish, and leaves before anything is sent. */
import { addressOf, Connection, withoutSecrets, type PublishOrder } from './connection.ts';

/** @returns null when the host takes it, else a sentence that says why not */
export async function testDestination(order: PublishOrder): Promise<string | null> {
	const found = addressOf(order);
	if ('problem' in found) return found.problem;
	let connection: Connection | null = null;
	const problem = await new Promise<string | null>((resolve) => {
		const failed = (reason: string) => resolve(withoutSecrets(reason, order));
		const events = { live: () => resolve(null), refused: failed, lost: failed };
		connection = new Connection(order, found.address, null, { lostFrames: 0 }, events);
	});
	await connection!.end();
	return problem;
}
