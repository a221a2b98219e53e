/** The desk lives in the browser: cameras, workers and canvases mean nothing on the server. */
export const ssr = false;
