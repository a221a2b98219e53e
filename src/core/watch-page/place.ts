/** A page of the organisation's own on which viewers watch: who may see it, and what is on it. */
import * as v from 'valibot';

export const WATCH_ACCESS = ['public', 'link', 'password'] as const;

/** The part of its address that is its own. */
export const slugSchema = v.pipe(v.string(), v.regex(/^[a-z0-9](?:[a-z0-9-]{1,58})[a-z0-9]$/, 'slug'));

export const watchSchema = v.object({
	slug: slugSchema,
	/** Everybody finds it, whoever has its link, or whoever knows a password besides. */
	access: v.picklist(WATCH_ACCESS),
	/** The words of the evening beneath the picture, for viewers who want them. */
	captions: v.boolean(),
	/** Viewers write to each other and to the organisation. */
	messages: v.boolean(),
	/** The recording, when the evening is over. */
	recording: v.boolean(),
});
export type WatchPlace = v.InferOutput<typeof watchSchema>;

/** A line to be pasted into a site that shows the page within one of its own. @param address of the page */
export function embedLine(address: string, title: string): string {
	const named = title.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
	return `<iframe src="${address}?embed" title="${named}" width="960" height="540" style="border:0;max-width:100%" allow="autoplay; fullscreen" allowfullscreen></iframe>`;
}
