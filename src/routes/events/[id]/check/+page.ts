/** Levels and faders live in the browser. */
export const ssr = false;
