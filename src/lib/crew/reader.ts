/** How a page calls itself among the crew, where nobody has given it a name: always the same on one machine. */
const KEY = 'bivvo-reader';
const LETTERS = 'ABCDEFGHJKLMNPQRSTUVWXYZ';

/** @param place what the page is, in words */
export function readerName(place: string): string {
	let own = localStorage.getItem(KEY);
	if (own === null || !/^[A-Z]{2}$/.test(own)) {
		const [first, second] = crypto.getRandomValues(new Uint8Array(2));
		own = LETTERS[first! % LETTERS.length]! + LETTERS[second! % LETTERS.length]!;
		localStorage.setItem(KEY, own);
	}
	return `${place} ${own}`;
}
