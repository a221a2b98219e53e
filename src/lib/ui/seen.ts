/**
 * Tells whether an element can be seen: its page is in front, and it is not scrolled out of sight.
 * @param tell called at once, and when it changes
 * @returns a function that ends it
 */
export function watchSeen(element: Element, tell: (seen: boolean) => void): () => void {
	// Of its own window: the wall may stand in another one than the desk.
	const page = element.ownerDocument;
	const { IntersectionObserver: Observer } = page.defaultView!;
	let isWithin = true;
	let told: boolean | null = null;
	const look = () => {
		const seen = isWithin && page.visibilityState !== 'hidden';
		if (seen !== told) tell((told = seen));
	};
	const within = new Observer(([entry]) => {
		isWithin = entry!.isIntersecting;
		look();
	});
	within.observe(element);
	page.addEventListener('visibilitychange', look);
	look();
	return () => {
		within.disconnect();
		page.removeEventListener('visibilitychange', look);
	};
}
