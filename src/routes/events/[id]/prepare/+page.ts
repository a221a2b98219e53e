/** Cameras, workers and canvases live in the browser. */
export const ssr = false;
