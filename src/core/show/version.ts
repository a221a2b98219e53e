/** Version of the form in which a show is stored; raised with an upgrade in upgrades/. */
export const VERSION = 2;
