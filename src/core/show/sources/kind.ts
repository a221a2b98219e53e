/** What a kind of source answers, so that nobody else asks which kind it is. */
import type * as v from 'valibot';

export interface SourceKind<F extends v.ObjectEntries = v.ObjectEntries> {
	/** Fields that a source of this kind has beside those of all sources. */
	fields: F;
	brings: {
		picture: boolean;
		/** `always`: that is what it is for; `asked`: its own sound can be a channel when somebody wants it. */
		sound: 'always' | 'asked' | 'never';
	};
	/** True when its pictures come from outside: they are lost when nobody records them, and have a size of their own. */
	isLive: boolean;
	/** True when its picture may stand still or be black without anything being wrong. */
	mayStandStill: boolean;
	/** True when its picture is a page that may be scrolled, which patches can follow. */
	scrolls: boolean;
	/** True when viewers can be held with its picture while the program is away. */
	canHold: boolean;
	/** True when colours of its picture can be corrected. */
	hasColours: boolean;
	/** True when it is a microphone's or a camera's own, which belongs to a picture: lips are seen there. */
	showsLips: boolean;
}

/** A kind that brings live pictures. */
export const LIVE_PICTURE = {
	brings: { picture: true, sound: 'asked' },
	isLive: true,
	mayStandStill: false,
	scrolls: false,
	canHold: false,
	hasColours: true,
	showsLips: true,
} as const satisfies Omit<SourceKind, 'fields'>;

/** A kind that brings sound and no picture. */
export const ONLY_SOUND = {
	brings: { picture: false, sound: 'always' },
	isLive: false,
	mayStandStill: true,
	scrolls: false,
	canHold: false,
	hasColours: false,
	showsLips: false,
} as const satisfies Omit<SourceKind, 'fields'>;

/** A kind whose picture is made from the show or a file. */
export const MADE_PICTURE = {
	brings: { picture: true, sound: 'never' },
	isLive: false,
	mayStandStill: true,
	scrolls: false,
	canHold: false,
	hasColours: true,
	showsLips: false,
} as const satisfies Omit<SourceKind, 'fields'>;
