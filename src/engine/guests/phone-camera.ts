/** What a phone's camera can do besides giving its picture: nearer, and a light. Where the browser does not say, nothing. */

/** Zoom, in the camera's own measure (W3C MediaStream Image Capture, 6.1). */
export interface Zoom {
	min: number;
	max: number;
	step: number;
	now: number;
}

interface Abilities {
	zoom?: { min: number; max: number; step: number };
	torch?: boolean;
}

const abilitiesOf = (track: MediaStreamTrack): Abilities =>
	typeof track.getCapabilities === 'function' ? (track.getCapabilities() as Abilities) : {};

export function zoomOf(track: MediaStreamTrack): Zoom | null {
	const { zoom } = abilitiesOf(track);
	if (!zoom || zoom.max <= zoom.min) return null;
	return { ...zoom, now: (track.getSettings() as { zoom?: number }).zoom ?? zoom.min };
}

export function hasTorch(track: MediaStreamTrack): boolean {
	return abilitiesOf(track).torch === true;
}

export function set(track: MediaStreamTrack, what: { zoom: number } | { torch: boolean }): Promise<void> {
	return track.applyConstraints({ advanced: [what as MediaTrackConstraintSet] });
}

interface Battery extends EventTarget {
	level: number;
	charging: boolean;
}

/**
 * Follows how full the battery is (W3C Battery Status API).
 * @param tell told now and with every change: 0 to 1; null while it is being charged, and where it is not told
 * @returns a function that ends it
 */
export function watchBattery(tell: (level: number | null) => void): () => void {
	const { getBattery } = navigator as { getBattery?: () => Promise<Battery> };
	let leave = () => {};
	let isOver = false;
	void getBattery?.call(navigator).then((battery) => {
		if (isOver) return;
		const told = () => tell(battery.charging ? null : battery.level);
		for (const change of ['levelchange', 'chargingchange']) battery.addEventListener(change, told);
		leave = () => ['levelchange', 'chargingchange'].forEach((change) => battery.removeEventListener(change, told));
		told();
	});
	return () => {
		isOver = true;
		leave();
	};
}
