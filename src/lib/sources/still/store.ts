/** Keeps a still with an event: checked, and drawn if it was none yet. */
import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
import type { OriginOf } from '../../../core/show/sources/source.ts';
import { prepareStill } from '../../../engine/sources/still.ts';
import { sources as words } from '../../words/index.ts';

/** @throws with a sentence when it is no still, or the server does not take it */
export async function storeStill(
	eventId: string,
	file: File,
): Promise<{ name: string; origin: OriginOf<'still'> & { kind: 'still' } }> {
	const body = await prepareStill(file);
	const response = await fetch(`/api/events/${eventId}/files`, { method: 'POST', body });
	const answer = (await response.json()) as { id?: string; message?: string };
	if (!answer.id) throw new Error(answer.message ?? words.fileNotStored);
	const name = file.name.replace(/\.[^.]+$/, '').slice(0, MOST_NAME_LETTERS) || words.stillName;
	return { name, origin: { kind: 'still', fileId: answer.id, fileName: file.name.slice(0, 200) } };
}
