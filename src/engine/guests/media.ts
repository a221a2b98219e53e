/** The media between a guest's browser and the desk's: one connection, with these in this order. */
export const TRANSCEIVERS = ['voice', 'camera', 'screen'] as const;

/** What a guest sends; null for what they do not. */
export type GuestMedia = { readonly [K in (typeof TRANSCEIVERS)[number]]: MediaStreamTrack | null };

export const NO_MEDIA: GuestMedia = { voice: null, camera: null, screen: null };
