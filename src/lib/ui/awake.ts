/** Keeps a screen lit while its page is seen. @returns a function that ends it */
export function stayAwake(): () => void {
	let lock: WakeLockSentinel | null = null;
	let isOver = false;
	async function ask() {
		if (isOver || document.visibilityState === 'hidden' || !('wakeLock' in navigator)) return;
		lock = await navigator.wakeLock.request('screen').catch(() => null);
		if (isOver) void lock?.release();
	}
	// The browser lets go of it whenever the page is out of sight.
	document.addEventListener('visibilitychange', ask);
	void ask();
	return () => {
		isOver = true;
		document.removeEventListener('visibilitychange', ask);
		void lock?.release();
	};
}
