/** A dialog that waits for a list shows itself without it after this time. */
const PATIENCE_MS = 5000;

/** What the server lists; null when it does not answer, or not in time. @param path such as `/api/hosts` */
export async function listFrom<T>(path: string): Promise<T | null> {
	try {
		const response = await fetch(path, { signal: AbortSignal.timeout(PATIENCE_MS) });
		return response.ok ? ((await response.json()) as T) : null;
	} catch {
		return null;
	}
}
