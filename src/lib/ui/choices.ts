/** A value that can be chosen, its name, and whether it can be chosen now. */
export type Choice<T> = readonly [value: T, name: string, isPossible?: boolean];

/** Choices from names by value, in the order in which they are written. */
export function choicesOf<K extends string>(names: Readonly<Record<K, string>>): Choice<K>[] {
	return (Object.entries(names) as [K, string][]).map(([value, name]) => [value, name]);
}

/** Choices among things that have an id and a name. */
export function choicesAmong(things: readonly { id: string; name: string }[]): Choice<string>[] {
	return things.map(({ id, name }) => [id, name]);
}
