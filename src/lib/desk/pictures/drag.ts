/**
 * Sources, scenes and guests that are dragged onto a picture, into the run sheet or into a seat. The browser's own drag and
 * drop carries them.
 */
const TYPES = {
	source: 'application/x-bivvo-source',
	scene: 'application/x-bivvo-scene',
	guest: 'application/x-bivvo-guest',
} as const;

/** What is dragged. */
export interface Dragged {
	is: keyof typeof TYPES;
	id: string;
}

export function drag(event: DragEvent, { is, id }: Dragged): void {
	event.dataTransfer?.setData(TYPES[is], id);
	if (event.dataTransfer) event.dataTransfer.effectAllowed = 'copy';
}

/** Attributes of an element that such things can be dropped on. */
export function takes(kinds: readonly Dragged['is'][], take: (dragged: Dragged, event: DragEvent) => void) {
	const kindOf = (event: DragEvent) => kinds.find((is) => event.dataTransfer?.types.includes(TYPES[is]));
	return {
		ondragover(event: DragEvent) {
			if (!kindOf(event)) return;
			event.preventDefault();
			event.stopPropagation();
		},
		ondrop(event: DragEvent) {
			const is = kindOf(event);
			const id = is && event.dataTransfer?.getData(TYPES[is]);
			if (!is || !id) return;
			event.preventDefault();
			event.stopPropagation();
			take({ is, id }, event);
		},
	};
}
