/** Panels: pages of buttons for a phone, a tablet, or a window beside the desk. */
import * as v from 'valibot';
import { orderSchema } from '../actions/order.ts';
import { idSchema, nameSchema, wholeWithin } from '../basics.ts';

export const MOST_PANELS = 24;
export const MOST_PANEL_PAGES = 12;
export const MOST_BUTTONS = 60;

/** Pictures on buttons, by what they mean. */
export const BUTTON_ICONS = [
	...(['camera', 'picture', 'card', 'name', 'words', 'music', 'microphone', 'hush', 'play', 'stop'] as const),
	...(['next', 'back', 'people', 'message', 'marker', 'lamp', 'warning'] as const),
] as const;
/** What sets buttons apart that belong together. States have their own look, whatever the colour. */
export const BUTTON_COLOURS = ['slate', 'moss', 'heather', 'bracken', 'tarn'] as const;

export const buttonSchema = v.object({
	id: idSchema,
	/** What stands on it; made from what it does when empty. */
	label: v.pipe(v.string(), v.maxLength(60, 'nameLong')),
	icon: v.nullable(v.picklist(BUTTON_ICONS)),
	colour: v.picklist(BUTTON_COLOURS),
	/** True where it shows the scene that it takes. */
	picture: v.boolean(),
	/** How many places it takes beside each other and one beneath the other. */
	width: wholeWithin(1, 4),
	height: wholeWithin(1, 4),
	/** At once when it is touched, unless it has a double press; null for one that only says something. */
	press: v.nullable(orderSchema),
	/** When it is held for half a second. */
	hold: v.nullable(orderSchema),
	double: v.nullable(orderSchema),
});

export const panelPageSchema = v.object({
	name: nameSchema,
	buttons: v.pipe(v.array(buttonSchema), v.maxLength(MOST_BUTTONS)),
});

export const panelSchema = v.object({
	id: idSchema,
	name: nameSchema,
	/** Places beside each other. */
	columns: wholeWithin(2, 10),
	/** True for one that shakes when a press is taken, where a device can. */
	vibrates: v.boolean(),
	pages: v.pipe(v.array(panelPageSchema), v.minLength(1), v.maxLength(MOST_PANEL_PAGES)),
});

export type PanelButton = v.InferOutput<typeof buttonSchema>;
export type PanelPage = v.InferOutput<typeof panelPageSchema>;
export type Panel = v.InferOutput<typeof panelSchema>;

/** A button that does one thing. */
export function plainButton(id: string, press: PanelButton['press'], part: Partial<PanelButton> = {}): PanelButton {
	const look = { label: '', icon: null, colour: 'slate' as const, picture: false, width: 1, height: 1 };
	return { id, ...look, press, hold: null, double: null, ...part };
}
