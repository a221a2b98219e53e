/** The sentences of the interface, by area. Another language is a folder beside `en`, of the same type, chosen here. */
import * as en from './en/index.ts';

const language: typeof en = en;

/** Words by area; figures as people read them; sentences for codes. */
export const {
	actions,
	delivery,
	desk,
	kinds,
	mix,
	overlays,
	pictures,
	plan,
	recordings,
	rehearsal,
	report,
	scenes,
	show,
	sources,
	takes,
	troubles,
	ui,
	pages,
	bytesOf,
	clockOf,
	durationOf,
	rateOf,
	delayAdvice,
	deliveryReason,
	deliveryWarning,
	addressWords,
	fieldWords,
	faultShort,
	faultWords,
	logLine,
	refusalWords,
	sendFaultWords,
	troubleWords,
	wordsFor,
} = language;
