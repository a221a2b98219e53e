/** Recordings that a guest's browser keeps until the server has them. */
import { readOwnFileName, type OwnRecording } from '../../core/guests/own-recording.ts';

export interface OwnFile {
	name: string;
	about: OwnRecording;
	file: File;
}

/**
 * Those in a folder of the browser's own file system, the oldest first.
 * @param but names of those that are still being written
 */
export async function ownFiles(folderName: string, but: ReadonlySet<string>): Promise<OwnFile[]> {
	const folder = await folderOf(folderName);
	if (!folder) return [];
	const found: OwnFile[] = [];
	for await (const [name, entry] of folder.entries()) {
		const about = readOwnFileName(name);
		if (!about || but.has(name) || entry.kind !== 'file') continue;
		// Another page of the same guest may be writing to it.
		const file = await (entry as FileSystemFileHandle).getFile().catch(() => null);
		if (file && file.size > 0) found.push({ name, about, file });
	}
	return found.sort((a, b) => a.about.startedAt - b.about.startedAt);
}

export async function forgetOwnFile(folderName: string, name: string): Promise<void> {
	const folder = await folderOf(folderName);
	await folder?.removeEntry(name).catch(() => {});
}

async function folderOf(name: string): Promise<FileSystemDirectoryHandle | null> {
	const root = await navigator.storage?.getDirectory?.().catch(() => null);
	return (await root?.getDirectoryHandle(name).catch(() => null)) ?? null;
}
