/** Screens, windows and tabs that a person shares with the desk. */
import type { Source } from '../../core/show/sources/source.ts';
import { sourceFault } from './fault.ts';
import { framesOf, type OpenSource, type SourceContext } from './open-source.ts';

/** Asks the person what to share, with its sound if they wish. @throws {SourceFault} when they do not, or may not */
export async function askForShare(): Promise<MediaStream> {
	if (!navigator.mediaDevices?.getDisplayMedia) throw sourceFault('cannotShare', {});
	return navigator.mediaDevices
		.getDisplayMedia({ video: { frameRate: { ideal: 30 } }, audio: true })
		.catch((error: unknown) => {
			if ((error as DOMException).name === 'NotAllowedError') throw sourceFault('shareRefused', {});
			throw sourceFault('cannotOpen', { label: 'The screen', problem: (error as Error).message });
		});
}

/** @throws {SourceFault} when the share has ended or was never begun in this tab */
export function openScreen({ id }: Pick<Source, 'id'>, { shares, audio }: SourceContext): OpenSource {
	const stream = shares.get(id);
	const isLive = ({ readyState }: MediaStreamTrack) => readyState === 'live';
	const track = stream?.getVideoTracks().find(isLive);
	if (!stream || !track) throw sourceFault('notShared', {});
	const sounds = stream.getAudioTracks().filter(isLive);
	const sound = sounds.length > 0 ? audio.createMediaStreamSource(new MediaStream(sounds)) : undefined;
	const open: OpenSource = {
		picture: { frames: framesOf(track as MediaStreamVideoTrack) },
		...(sound && { sound }),
		onLost: null,
		close() {
			sound?.disconnect();
			for (const each of stream.getTracks()) each.stop();
		},
	};
	track.addEventListener('ended', () => open.onLost?.({ code: 'shareEnded', about: {} }));
	return open;
}
