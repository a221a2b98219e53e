/** The player without what a watch page does not use; its types are those of the whole. */
declare module 'hls.js/light' {
	export * from 'hls.js';
	export { default } from 'hls.js';
}
