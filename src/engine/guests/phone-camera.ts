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
