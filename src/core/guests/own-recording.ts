/**
 * A guest's own recording: their browser makes it at full quality and keeps it, and sends it when the line is free. A new one
 * begins whenever their camera or microphone is another one.
 */
import * as v from 'valibot';
import { idSchema, timeSchema } from '../show/basics.ts';

/** What browsers record: ISO/IEC 14496-12 files in fragments, or WebM. */
const TYPES = { mp4: 'video/mp4', webm: 'video/webm' } as const;

/** Bytes of one at most: some hours. */
export const MOST_OWN_BYTES = 16e9;

export const ownRecordingSchema = v.object({
	/** The broadcast that it was made beside. */
	broadcastId: idSchema,
	/** When it began, milliseconds since 1970 by the server's clock, as well as the guest's machine knows it. */
	startedAt: timeSchema,
	kind: v.picklist(Object.keys(TYPES) as (keyof typeof TYPES)[]),
});

export type OwnRecording = v.InferOutput<typeof ownRecordingSchema>;

/** @param type as a browser calls what it records, with or without codecs (RFC 6381); null for what is none of these */
export function ownKindOf(type: string): OwnRecording['kind'] | null {
	const bare = type.split(';')[0]!.trim().toLowerCase();
	return bare === TYPES.mp4 ? 'mp4' : bare === TYPES.webm ? 'webm' : null;
}

/** Name of its file in the browser, which says all there is to say of it. */
export function ownFileName({ broadcastId, startedAt, kind }: OwnRecording): string {
	return `${startedAt}~${broadcastId}.${kind}`;
}

/** What a file's name says; null for a file that is no such recording. */
export function readOwnFileName(name: string): OwnRecording | null {
	const [, startedAt, broadcastId, kind] = /^(\d{1,15})~([^.]+)\.(\w+)$/.exec(name) ?? [];
	const read = v.safeParse(ownRecordingSchema, { broadcastId, startedAt: Number(startedAt), kind });
	return read.success ? read.output : null;
}
