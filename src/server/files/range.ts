/**
 * One range of bytes as a player asks for it (RFC 9110, section 14.1.2).
 * @param header the Range header, or null
 * @param size of the whole, bytes
 * @returns first and last byte; null for the whole; `impossible` when it lies beyond the end
 */
export function rangeOf(header: string | null, size: number): { from: number; to: number } | null | 'impossible' {
	const [, first, last] = /^bytes=(\d{0,15})-(\d{0,15})$/.exec(header ?? '') ?? [];
	// What is not understood, several ranges among it, is answered with the whole.
	if (first === undefined || last === undefined || (first === '' && last === '')) return null;
	if (first === '')
		return size === 0 || Number(last) === 0 ? 'impossible' : { from: Math.max(0, size - Number(last)), to: size - 1 };
	const from = Number(first);
	const to = last === '' ? size - 1 : Math.min(size - 1, Number(last));
	return from >= size || to < from ? 'impossible' : { from, to };
}
