/** Views for a page that makes no program: each comes once, however many monitors show a part of it. */
import type { View } from '../../core/watch/views.ts';
import { ServerSocket } from '../../engine/server-socket.ts';
import { ViewDecoder, type ShowFrame } from '../../engine/watch/view-decoder.ts';

interface Open {
	socket: ServerSocket;
	decoder: ViewDecoder;
	shows: Set<ShowFrame>;
}

/** The views of an event, for a page that makes no program. */
export function viewsOf(eventId: string): WatchedViews {
	const base = location.origin.replace(/^http/, 'ws');
	return new WatchedViews((view) => `${base}/watch/${eventId}?view=${view}`);
}

export class WatchedViews {
	readonly #urlOf: (view: View) => string;
	readonly #open = new Map<View, Open>();

	constructor(urlOf: (view: View) => string) {
		this.#urlOf = urlOf;
	}

	/**
	 * Shows pictures of a view as they come.
	 * @returns a function that ends it
	 */
	watch(view: View, show: ShowFrame): () => void {
		const open = this.#open.get(view) ?? this.#begin(view);
		open.shows.add(show);
		return () => {
			open.shows.delete(show);
			if (open.shows.size > 0) return;
			this.#open.delete(view);
			open.socket.close();
			open.decoder.close();
		};
	}

	#begin(view: View): Open {
		const shows = new Set<ShowFrame>();
		const decoder = new ViewDecoder((frame, order) => shows.forEach((show) => show(frame, order)));
		const socket = new ServerSocket(this.#urlOf(view));
		socket.onheard = (data) => decoder.take(data as ArrayBuffer);
		const open = { socket, decoder, shows };
		this.#open.set(view, open);
		return open;
	}
}
