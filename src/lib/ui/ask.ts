/** Asks the server for something, as JSON. */

/** @returns what it answered, or a sentence that says what went wrong */
export async function askServer<T>(
	path: string,
	method: string,
	body: unknown,
): Promise<{ answer: T } | { problem: string }> {
	const response = await fetch(path, {
		method,
		headers: { 'Content-Type': 'application/json' },
		body: JSON.stringify(body),
	}).catch(() => null);
	if (!response) return { problem: 'The server cannot be reached. Nothing was changed; try again.' };
	const told = (await response.json().catch(() => null)) as (T & { message?: string }) | null;
	if (response.ok && told !== null) return { answer: told };
	return { problem: told?.message ?? `The server answered something else (${response.status}). Try again.` };
}
