/** Sources that are dragged from their list onto a picture. The browser's own drag and drop carries them. */
const TYPE = 'application/x-bivvo-source';

export function dragSource(event: DragEvent, sourceId: string): void {
	event.dataTransfer?.setData(TYPE, sourceId);
	if (event.dataTransfer) event.dataTransfer.effectAllowed = 'copy';
}

/** Attributes of an element that sources can be dropped on. */
export function takesSource(take: (sourceId: string) => void) {
	return {
		ondragover(event: DragEvent) {
			if (!event.dataTransfer?.types.includes(TYPE)) return;
			event.preventDefault();
			event.stopPropagation();
		},
		ondrop(event: DragEvent) {
			const sourceId = event.dataTransfer?.getData(TYPE);
			if (!sourceId) return;
			event.preventDefault();
			event.stopPropagation();
			take(sourceId);
		},
	};
}
