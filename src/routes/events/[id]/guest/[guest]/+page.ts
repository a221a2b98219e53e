/** Cameras are in the browser. */
export const ssr = false;
