/** Ctrl+Z, or its like on other machines, pressed within an element. */
export function undoKey(undo: () => void) {
	return (event: KeyboardEvent) => {
		if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.key !== 'z') return;
		// A field goes back by itself in what was typed.
		if (event.target instanceof HTMLInputElement && event.target.type === 'text') return;
		event.preventDefault();
		undo();
	};
}
