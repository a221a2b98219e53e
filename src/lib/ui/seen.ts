/**
 * Tells whether an element can be seen: its page is in front, and it is not scrolled out of sight.
 * @param tell called at once, and when it changes
 * @returns a function that ends it
 */
export function watchSeen(element: Element, tell: (seen: boolean) => void): () => void {
	let isWithin = true;
	let told: boolean | null = null;
	const look = () => {
		const seen = isWithin && document.visibilityState !== 'hidden';
		if (seen !== told) tell((told = seen));
	};
	const within = new IntersectionObserver(([entry]) => {
		isWithin = entry!.isIntersecting;
		look();
	});
	within.observe(element);
	document.addEventListener('visibilitychange', look);
	look();
	return () => {
		within.disconnect();
		document.removeEventListener('visibilitychange', look);
	};
}
