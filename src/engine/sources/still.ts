/** Stills: pictures from files, checked and made ready in the browser before anything of them is kept. */
import { MAX_STILL_BYTES, readStillHeader, stillProblem } from '../../core/picture/still-header.ts';
import type { SourceOf } from '../../core/show/sources/source.ts';
import { closeFrame, readAnimation } from './animation.ts';
import { sourceFault } from './fault.ts';
import type { OpenSource, SourceContext } from './open-source.ts';

/** An SVG has no pixels of its own; it is drawn this wide at most. */
const SVG_WIDTH = 1920;

/** @throws {SourceFault} when the file is gone or is no picture */
export async function openStill(
	{ fileId, fileName }: SourceOf<'still'>,
	{ eventId }: SourceContext,
): Promise<OpenSource> {
	const response = await fetch(`/api/events/${eventId}/files/${fileId}`);
	if (!response.ok) throw sourceFault('fileGone', { fileName });
	const blob = await response.blob();
	const bytes = await blob.arrayBuffer();
	if (readStillHeader(new Uint8Array(bytes))?.moves)
		return { picture: { animation: bytes }, onLost: null, close: () => {} };
	const image = await decode(blob, fileName);
	return { picture: { image }, onLost: null, close: () => {} };
}

async function decode(blob: Blob, fileName: string): Promise<ImageBitmap> {
	return createImageBitmap(blob).catch(() => {
		throw sourceFault('notAPicture', { fileName });
	});
}

/**
 * Makes a file fit to be kept: an SVG becomes pixels in the browser's picture frame, where it can neither run scripts
 * nor fetch anything; others are read once to see that they are whole.
 * @throws {SourceFault} when it is too large, broken or no picture
 */
export async function prepareStill(file: File): Promise<Blob> {
	const isSvg = file.type === 'image/svg+xml' || /\.svg$/i.test(file.name);
	// Too much to be looked into is refused by its size alone.
	const bytes = file.size > MAX_STILL_BYTES ? new Uint8Array() : new Uint8Array(await file.arrayBuffer());
	const problem = stillProblem(file.name, file.size, isSvg ? 'svg' : readStillHeader(bytes));
	if (problem) throw sourceFault('file', { problem });
	if (isSvg) return drawSvg(file);
	if (readStillHeader(bytes)?.moves) {
		for await (const frame of readAnimation(bytes.buffer, file.name)) closeFrame(frame);
		return file;
	}
	(await decode(file, file.name)).close();
	return file;
}

async function drawSvg(file: File): Promise<Blob> {
	const url = URL.createObjectURL(new Blob([file], { type: 'image/svg+xml' }));
	try {
		const image = new Image();
		image.src = url;
		await image.decode().catch(() => {
			throw sourceFault('notAnSvg', { fileName: file.name });
		});
		const [width, height] = [image.naturalWidth || SVG_WIDTH, image.naturalHeight || SVG_WIDTH * 0.5625];
		const scale = SVG_WIDTH / Math.max(width, height * (16 / 9));
		const canvas = new OffscreenCanvas(Math.max(2, Math.round(width * scale)), Math.max(2, Math.round(height * scale)));
		canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
		return await canvas.convertToBlob({ type: 'image/png' });
	} finally {
		URL.revokeObjectURL(url);
	}
}
