/**
 * Where a picture lies whose pixels are those of the screen: between them, a browser without a graphics card takes half as
 * long again to show it.
 */

interface Box {
	left: number;
	top: number;
	right: number;
	bottom: number;
}

/**
 * The largest picture of even sides within a box.
 * @param box in pixels of the page
 * @param scale pixels of the screen for one of the page
 * @returns its size in pixels of the screen, and its place within the box as style
 */
export function onWholePixels({ left, top, right, bottom }: Box, scale: number) {
	const [x, y] = [Math.ceil(left * scale), Math.ceil(top * scale)];
	const even = (length: number) => Math.max(0, Math.floor(length) & ~1);
	const size = { width: even(right * scale - x), height: even(bottom * scale - y) };
	const px = (length: number) => `${length}px`;
	const style = {
		left: px(x / scale - left),
		top: px(y / scale - top),
		width: px(size.width / scale),
		height: px(size.height / scale),
	};
	return { size, style };
}
