/** What a guest's browser keeps of them: their name, and which devices they have chosen. */
import * as v from 'valibot';

const KEY = 'bivvo-guest';
const deviceSchema = v.nullable(v.object({ deviceId: v.string(), label: v.string() }));
const keptSchema = v.object({
	name: v.string(),
	camera: deviceSchema,
	microphone: deviceSchema,
	outputId: v.string(),
	looksAt: v.optional(v.picklist(['program', 'forGuests', 'self']), 'program'),
	/** 0 to 1. */
	volume: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
	/** True for who reads what viewers write. */
	readsViewers: v.optional(v.boolean(), false),
	/** The link at whose event they want a recording of their own; empty for none. */
	recordsFor: v.optional(v.string(), ''),
});

export type Kept = v.InferOutput<typeof keptSchema>;

/** What cannot be read is forgotten. */
export function readKept(): Kept {
	try {
		return v.parse(keptSchema, JSON.parse(localStorage.getItem(KEY) ?? ''));
	} catch {
		const plain = { camera: null, microphone: null, outputId: '', looksAt: 'program', volume: 1 } as const;
		return { ...plain, name: '', readsViewers: false, recordsFor: '' };
	}
}

export function keep(part: Partial<Kept>): void {
	localStorage.setItem(KEY, JSON.stringify({ ...readKept(), ...part }));
}
