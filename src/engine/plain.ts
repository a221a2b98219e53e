/** A copy of JSON without proxies, fit for a message. */
export function plain<T>(value: T): T {
	return JSON.parse(JSON.stringify(value)) as T;
}
