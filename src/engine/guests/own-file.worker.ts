/**
 * Writes a recording to a file of the browser's own (File System Standard, section 3.3), away from the page: what is written
 * stays, whatever happens to the page.
 */
export type ToOwnFile =
	{ type: 'open'; folder: string; name: string } | { type: 'write'; bytes: ArrayBuffer } | { type: 'close' };
export type FromOwnFile = { type: 'closed' } | { type: 'failed'; isFull: boolean };

let file: FileSystemSyncAccessHandle | null = null;
let doing = Promise.resolve();

onmessage = ({ data }: MessageEvent<ToOwnFile>) => {
	doing = doing.then(() => handle(data)).catch(fail);
};

async function handle(order: ToOwnFile): Promise<void> {
	switch (order.type) {
		case 'open': {
			const root = await navigator.storage.getDirectory();
			const folder = await root.getDirectoryHandle(order.folder, { create: true });
			const entry = await folder.getFileHandle(order.name, { create: true });
			file = await entry.createSyncAccessHandle();
			return;
		}
		case 'write': {
			if (!file) return;
			file.write(new Uint8Array(order.bytes), { at: file.getSize() });
			return file.flush();
		}
		case 'close':
			file?.close();
			file = null;
			return tell({ type: 'closed' });
	}
}

function fail(error: unknown): void {
	file?.close();
	file = null;
	tell({ type: 'failed', isFull: (error as DOMException).name === 'QuotaExceededError' });
}

function tell(message: FromOwnFile): void {
	postMessage(message);
}
