/** Stills for the media library: made fit to be kept, with what is known of them and a small picture. */
import type { MediaAbout } from '../../core/media/media.ts';
import { prepareStill } from '../../engine/sources/still.ts';
import { problemWords } from '../words/problem.ts';

const POSTER_WIDTH = 640;

export interface StillFile {
	file: File;
	about: MediaAbout;
	/** A JPEG. */
	poster: Blob;
}

/** True for a file that is a still by its type or its name. */
export function isStill({ type, name }: File): boolean {
	return type.startsWith('image/') || /\.(png|jpe?g|webp|svg)$/i.test(name);
}

/** @throws with a sentence when it is none that can be shown */
export async function stillFile(given: File): Promise<StillFile> {
	const blob = await prepareStill(given).catch((error: unknown) => {
		throw new Error(problemWords(error));
	});
	const file =
		blob instanceof File ? blob : new File([blob], given.name.replace(/\.svg$/i, '.png'), { type: blob.type });
	const image = await createImageBitmap(file);
	const { width, height } = image;
	const canvas = new OffscreenCanvas(Math.min(POSTER_WIDTH, width), 0);
	canvas.height = Math.max(1, Math.round((height * canvas.width) / width));
	canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
	image.close();
	const poster = await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 });
	const picture = { width, height, fps: 0, codec: file.type.slice(0, 100), alpha: file.type !== 'image/jpeg' };
	return { file, about: { kind: 'still', lengthMs: 0, picture, sound: null }, poster };
}
