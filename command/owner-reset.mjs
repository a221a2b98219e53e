/** Makes somebody an owner again, for whoever can read this machine's terminal. */
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import mysql from 'mysql2/promise';
import { Problem } from './say.mjs';

const GOOD_FOR_MS = 3_600_000;

/**
 * Writes an invitation for an owner into the database.
 * @param {string} databaseUrl
 * @returns {Promise<string>} what stands behind `/join#` in its address
 */
export async function inviteOwner(databaseUrl) {
	const secret = randomBytes(32).toString('base64url');
	const hash = createHash('sha256').update(secret).digest('hex');
	const connection = await mysql.createConnection({ uri: databaseUrl });
	try {
		const now = Date.now();
		await connection.execute(
			`insert into invitations (id, hash, name, role, role_at, created_at, expires_at, used_at)
			 values (?, ?, 'Owner', 'owner', '{}', ?, ?, null)`,
			[randomUUID(), hash, now, now + GOOD_FOR_MS],
		);
	} catch (error) {
		const { code } = /** @type {{ code?: string }} */ (error);
		if (code === 'ER_NO_SUCH_TABLE') throw new Problem('This Bivvo was never started. Start it first: ./bivvo start');
		throw error;
	} finally {
		await connection.end();
	}
	return secret;
}
