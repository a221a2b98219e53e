/** The picture that a player shows now, as a file. */

/** @returns null where there is no picture yet */
export async function stillOf(player: HTMLVideoElement, type: 'image/jpeg' | 'image/png'): Promise<Blob | null> {
	const { videoWidth: width, videoHeight: height } = player;
	if (width === 0) return null;
	const canvas = new OffscreenCanvas(width, height);
	canvas.getContext('2d', { alpha: false })!.drawImage(player, 0, 0);
	return canvas.convertToBlob({ type, quality: 0.92 });
}
