/** The battery of this machine (W3C Battery Status API), where the browser tells of it. */

interface BatteryManager extends EventTarget {
	level: number;
	charging: boolean;
}

export interface Battery {
	/** How full it is, 0 to 1. */
	charge: number;
	isFed: boolean;
}

/**
 * Follows how full the battery is.
 * @param tell told now and with every change; never where it is not told
 * @returns a function that ends it
 */
export function watchBattery(tell: (battery: Battery) => void): () => void {
	const { getBattery } = navigator as { getBattery?: () => Promise<BatteryManager> };
	let leave = () => {};
	let isOver = false;
	void getBattery?.call(navigator).then((battery) => {
		if (isOver) return;
		const told = () => tell({ charge: battery.level, isFed: battery.charging });
		for (const change of ['levelchange', 'chargingchange']) battery.addEventListener(change, told);
		leave = () => ['levelchange', 'chargingchange'].forEach((change) => battery.removeEventListener(change, told));
		told();
	});
	return () => {
		isOver = true;
		leave();
	};
}
