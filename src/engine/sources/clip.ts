/** Opens clips: a worker that decodes, and a node of the sound graph that plays in step with the picture. */
import type { ClipSource } from '../../core/show/clips/source.ts';
import { makeClipMemory, type ClipMemory } from './clip-memory.ts';
import type { ClipOrder, FromClipToPage } from './clip-messages.ts';
import clipWorkletUrl from './clip.worklet.ts?worker&url';
import type { ClipNodeOptions } from './clip.worklet.ts';
import { SourceFault } from './fault.ts';
import type { OpenSource, SourceContext } from './open-source.ts';

/** Contexts that know the worklet. */
const prepared = new WeakMap<BaseAudioContext, Promise<void>>();

/** @throws {SourceFault} when its first file is gone or cannot be decoded here */
export async function openClip(source: ClipSource, context: SourceContext): Promise<OpenSource> {
	const memory = makeClipMemory();
	const worker = new Worker(new URL('./clip.worker.ts', import.meta.url), { type: 'module', name: 'clip' });
	const { port1, port2 } = new MessageChannel();
	const { items, repeats, shuffled } = source;
	const urls = Object.fromEntries(items.map(({ mediaId }) => [mediaId, mediaUrl(mediaId)]));
	const order: ClipOrder = { clip: { items, repeats, shuffled }, urls, memory, port: port1 };
	worker.postMessage(order, [port1]);
	const sound = new GainNode(context.audio);
	const node = playInto(sound, memory, context);
	const open: OpenSource = {
		picture: { clip: port2, memory },
		sound,
		inputs: 2,
		onLost: null,
		close() {
			worker.terminate();
			void node.then((playing) => {
				playing.port.postMessage('close');
				playing.disconnect();
			});
		},
	};
	const opened = Promise.withResolvers<{ width: number; height: number } | null>();
	worker.onmessage = ({ data }: MessageEvent<FromClipToPage>) => {
		if (data.type === 'opened') return opened.resolve(data.size);
		opened.reject(new SourceFault(data.fault));
		open.onLost?.(data.fault);
	};
	worker.onerror = ({ message }) => {
		const fault = { code: 'cannotOpen' as const, about: { label: source.name, problem: message } };
		opened.reject(new SourceFault(fault));
		open.onLost?.(fault);
	};
	try {
		// Of one with a picture the first frame says that it is there.
		open.isHeard = (await opened.promise) === null;
		return open;
	} catch (error) {
		open.close();
		throw error;
	}
}

/** The page's own origin, as the worker has no address of its own to start from. */
function mediaUrl(mediaId: string): string {
	return new URL(`/api/media/${mediaId}/file`, location.origin).href;
}

/** The sound begins when the engine's clock does; a picture does not wait for that. */
async function playInto(to: AudioNode, memory: ClipMemory, { audio, clock }: SourceContext): Promise<AudioWorkletNode> {
	const added = prepared.get(audio) ?? audio.audioWorklet.addModule(clipWorkletUrl);
	prepared.set(audio, added);
	const [startFrame] = await Promise.all([clock.startFrame, added]);
	const processorOptions: ClipNodeOptions = { memory, startFrame };
	const node = new AudioWorkletNode(audio, 'bivvo-clip', {
		numberOfInputs: 0,
		outputChannelCount: [2],
		processorOptions,
	});
	node.connect(to);
	return node;
}
