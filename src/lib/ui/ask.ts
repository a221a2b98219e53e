/** Asks the server for something, as JSON. */
import { ui as words } from '../words/index.ts';

/** @returns what it answered, or a sentence that says what went wrong, with the code of a refusal */
export async function askServer<T>(
	path: string,
	method: string,
	body: unknown,
): Promise<{ answer: T } | { problem: string; code?: string }> {
	const response = await fetch(path, {
		method,
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify(body),
	}).catch(() => null);
	if (!response) return { problem: words.serverUnreachable };
	const told = (await response.json().catch(() => null)) as (T & { message?: string; code?: string }) | null;
	if (response.ok && told !== null) return { answer: told };
	return { problem: told?.message ?? words.otherAnswer(response.status), code: told?.code };
}
