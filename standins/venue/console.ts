/** The stand-in console: twelve inputs as the demo's chapel has them, with faults that can be switched on. */
import type { OpenSource, SourceContext } from '../../src/engine/sources/open-source.ts';
import type { ConsoleOptions, ToConsole } from './console.worklet.ts';
import consoleWorkletUrl from './console.worklet.ts?worker&url';
import choirLeftUrl from './media/choir-left.flac?url';
import choirRightUrl from './media/choir-right.flac?url';
import fiddleUrl from './media/fiddle.flac?url';
import filmLeftUrl from './media/film-left.flac?url';
import filmRightUrl from './media/film-right.flac?url';
import handheldUrl from './media/handheld.flac?url';
import harmoniumUrl from './media/harmonium.flac?url';
import lecternUrl from './media/lectern-mic.flac?url';
import talkbackUrl from './media/talkback.flac?url';
import { onBroken, type ConsoleAnswer } from './faults.ts';
import { readLoop } from './loop.ts';
import type { RoomInput } from './room.ts';

/** Those of the room first, as far away from its microphones as room.ts says. */
const SOUNDS = [
	...[lecternUrl, handheldUrl, choirLeftUrl, choirRightUrl, fiddleUrl, harmoniumUrl, filmLeftUrl, filmRightUrl],
	talkbackUrl,
];
/** By input, from 0. */
const INPUTS: RoomInput[] = [
	...[0, 1, 2, 3, 4, 5, 6, 7].map((sound) => ({ sound })),
	{ air: 'left' },
	{ air: 'right' },
	{ sound: 8 },
	null,
];

export async function openConsole({ audio, inRoom }: SourceContext): Promise<OpenSource> {
	await audio.audioWorklet.addModule(consoleWorkletUrl);
	const node = new AudioWorkletNode(audio, 'bivvo-stand-in-console', {
		...{ numberOfInputs: 1, channelCount: 1, channelCountMode: 'explicit' },
		outputChannelCount: [INPUTS.length],
		processorOptions: { inputs: INPUTS } satisfies ConsoleOptions,
	});
	const tell = (message: ToConsole, transfer: Transferable[] = []) => node.port.postMessage(message, transfer);
	let isClosed = false;
	/** One after the other: all at once they would take the whole machine while pictures are wanted. */
	async function fill(): Promise<void> {
		for (const [sound, url] of SOUNDS.entries()) {
			if (isClosed) return;
			const samples = await readLoop(audio, url);
			tell({ type: 'sound', sound, samples }, [samples.buffer]);
		}
	}
	const hearing = new Set<number>();
	const switches = onBroken(({ input, fault }) => {
		const isHeard = hearing.size > 0;
		if (fault === 'hearsDesk') hearing.add(input);
		else hearing.delete(input);
		if (hearing.size > 0 && !isHeard) inRoom.connect(node);
		else if (hearing.size === 0 && isHeard) inRoom.disconnect(node);
		tell({ type: 'break', input, fault });
	});
	node.port.onmessage = ({ data }: MessageEvent<ConsoleAnswer>) => switches.answer(data);
	const opened: OpenSource = {
		sound: node,
		inputs: INPUTS.length,
		onLost: null,
		close() {
			isClosed = true;
			node.port.onmessage = null;
			switches.end();
			if (hearing.size > 0) inRoom.disconnect(node);
			tell({ type: 'close' });
		},
	};
	fill().catch((error: unknown) =>
		opened.onLost?.({ code: 'standInBroken', about: { problem: (error as Error).message } }),
	);
	return opened;
}
