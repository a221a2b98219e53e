/** Hands a file that was made on the page to the person, as a download. */

/** Long enough for a browser that asks where to put it. */
const KEPT_MS = 60_000;

/** @param type its media type */
export function saveFile(name: string, content: string | Blob, type: string): void {
	const link = document.createElement('a');
	link.href = URL.createObjectURL(content instanceof Blob ? content : new Blob([content], { type }));
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(link.href), KEPT_MS);
}
