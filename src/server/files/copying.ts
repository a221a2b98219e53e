/** Copies what is in a recording into another file, which appears only when it is whole. */
import { rename, rm } from 'node:fs/promises';
import { ALL_FORMATS, FilePathSource, FilePathTarget, Input, Output, type OutputFormat } from 'mediabunny';

/**
 * @param copy reads from the recording, begins the other file when it knows that there is something for it, and fills it
 * @returns what `copy` does
 * @throws what `copy` does; nothing of the other file is left then
 */
export async function copying<T>(
	file: string,
	to: string,
	copy: (input: Input, begin: (format: OutputFormat) => Output) => Promise<T>,
): Promise<T> {
	const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
	const part = `${to}.part`;
	const outputs: Output[] = [];
	try {
		const result = await copy(input, (format) => {
			const output = new Output({ format, target: new FilePathTarget(part) });
			outputs.push(output);
			return output;
		});
		for (const output of outputs) await output.finalize();
		await rename(part, to);
		return result;
	} finally {
		input.dispose();
		// One that could not be finished still holds its file open.
		for (const output of outputs) if (output.state !== 'finalized') await output.cancel().catch(() => {});
		await rm(part, { force: true }).catch(() => {});
	}
}
