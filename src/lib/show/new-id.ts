/** A new id for something that a person makes. */
export function newId(): string {
	return crypto.randomUUID().slice(0, 13);
}
