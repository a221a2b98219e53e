/** What a person is told of an error, whatever part has thrown it. */
import { Refusal } from '../../core/refusal.ts';
import { SourceFault } from '../../engine/sources/fault.ts';
import { EngineFailure } from '../../engine/trouble.ts';
import { faultWords, refusalWords, troubleWords } from './index.ts';

/** @param name of the source that the error is about, if it is about one */
export function problemWords(error: unknown, name = 'It'): string {
	if (error instanceof Refusal) return refusalWords(error.reason);
	if (error instanceof SourceFault) return faultWords(error.fault, name);
	if (error instanceof EngineFailure) return troubleWords(error.trouble);
	return (error as Error).message;
}
