import about from '../../package.json' with { type: 'json' };

/** Of this Bivvo, as nodes tell each other. */
export const VERSION: string = about.version;
