/** Opens cameras of the network: what their line brings now. When something else comes, the source is opened anew. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import { sourceFault } from './fault.ts';
import networkWorkletUrl from './network.worklet.ts?worker&url';
import type { CameraLine } from './camera-line.ts';
import { framesOf, type OpenSource, type SourceContext } from './open-source.ts';

/** Contexts that know the worklet. */
const prepared = new WeakMap<BaseAudioContext, Promise<void>>();

/** @throws {SourceFault} when nothing comes from it */
export async function openNetwork({ id }: SourceOf<'network'>, context: SourceContext): Promise<OpenSource> {
	const line = context.cameras.get(id);
	if (!line) throw sourceFault('nothingArrives', {});
	const { media } = line;
	if (media.by === 'nothing')
		throw media.why === null ? sourceFault('nothingArrives', {}) : sourceFault('cameraEnded', { why: media.why });
	if (media.by === 'rtmp') return openRtmp(line, context);
	// Tracks of its own: the line's go on when the source is opened anew.
	const picture = media.picture?.clone();
	const sound = media.sound && context.audio.createMediaStreamSource(new MediaStream([media.sound]));
	return {
		...(picture && { picture: { frames: framesOf(picture as MediaStreamVideoTrack) } }),
		...(sound && { sound }),
		onLost: null,
		close() {
			sound?.disconnect();
			picture?.stop();
		},
	};
}

async function openRtmp(line: CameraLine, { audio }: SourceContext): Promise<OpenSource> {
	const added = prepared.get(audio) ?? audio.audioWorklet.addModule(networkWorkletUrl);
	prepared.set(audio, added);
	await added;
	const node = new AudioWorkletNode(audio, 'bivvo-network', { numberOfInputs: 0, outputChannelCount: [2] });
	const [picture, sound] = [new MessageChannel(), new MessageChannel()];
	node.port.postMessage(sound.port2, [sound.port2]);
	line.show(picture.port1, sound.port1);
	return {
		picture: { port: picture.port2 },
		sound: node,
		inputs: 2,
		onLost: null,
		close() {
			line.show(null, null);
			node.port.postMessage('close');
		},
	};
}
