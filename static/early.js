/**
 * What somebody does on a page before its scripts have come is kept, and done once they are there. This one is loaded by itself, from
 * the head of the page, ahead of all others.
 */
// Pages that only the browser makes load it when all else is there already: nothing is to be kept.
if (document.documentElement.dataset.alive === undefined) {
	const ALIVE = 'bivvo-alive';
	/** By what it was done to: whoever presses again, since nothing happens, means it once. @type {Map<EventTarget, () => void>} */
	const kept = new Map();

	/** @param {Event} event */
	const keep = (event) => {
		const { target, type } = event;
		if (!(target instanceof Element)) return;
		if (type === 'submit') {
			event.preventDefault();
			kept.set(target, () => /** @type {HTMLFormElement} */ (target).requestSubmit());
		} else if (type === 'click') {
			// Links lead where they lead, and what can be ticked is ticked.
			const button = target.closest('button');
			if (!button) return;
			event.preventDefault();
			kept.set(button, () => button.click());
		} else keepValue(/** @type {HTMLInputElement} */ (target), type);
	};

	/** @param {HTMLInputElement} field @param {string} type of the event */
	const keepValue = (field, type) => {
		const { value, checked } = field;
		const isFile = field.type === 'file';
		kept.set(field, () => {
			// The page may have put its own in place of what was typed.
			if (!isFile) Object.assign(field, { value, ...(typeof checked === 'boolean' && { checked }) });
			field.dispatchEvent(new Event('input', { bubbles: true }));
			if (type === 'change') field.dispatchEvent(new Event(type, { bubbles: true }));
		});
	};

	const kinds = ['click', 'submit', 'input', 'change'];
	for (const kind of kinds) addEventListener(kind, keep, true);
	addEventListener(
		ALIVE,
		() => {
			for (const kind of kinds) removeEventListener(kind, keep, true);
			for (const act of kept.values()) act();
		},
		{ once: true },
	);
}
