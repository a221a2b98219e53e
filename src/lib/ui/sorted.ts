/** Lets lines of a list be dragged to another place. The list itself is drawn from the show. */
import Sortable from 'sortablejs';
import type { Attachment } from 'svelte/attachments';

interface Options {
	/** What can be dragged; all children when absent. */
	draggable?: string;
	/** Where a line is taken hold of; anywhere when absent. */
	handle?: string;
	/** True while nothing may be moved. */
	isLocked?: () => boolean;
}

/** @param move told from where to where, counted among what can be dragged */
export function sorted(move: (from: number, to: number) => void, options: Options = {}): Attachment<HTMLElement> {
	const { draggable = '*', handle, isLocked = () => false } = options;
	return (list) => {
		let after: ChildNode | null = null;
		const sorting = Sortable.create(list, {
			animation: 120,
			draggable: `>${draggable}`,
			...(handle !== undefined && { handle }),
			onMove: () => !isLocked(),
			onStart({ item }) {
				after = item.nextSibling;
			},
			onEnd({ oldDraggableIndex: from, newDraggableIndex: to, item }) {
				if (from === undefined || to === undefined || from === to) return;
				// Put back where it was: Svelte moves it when the show has changed. Behind the last line it keeps a mark of its own.
				list.insertBefore(item, after?.parentNode === list ? after : null);
				move(from, to);
			},
		});
		return () => sorting.destroy();
	};
}
