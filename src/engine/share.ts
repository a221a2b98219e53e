/** Screens, windows and tabs that a person shares with the desk. */
import type { OpenSource } from './source.ts';

/** Asks the person what to share. @throws with a sentence when they do not, or may not */
export async function askForShare(): Promise<MediaStream> {
	if (!navigator.mediaDevices?.getDisplayMedia) throw new Error('This browser cannot share a screen.');
	return navigator.mediaDevices
		.getDisplayMedia({ video: { frameRate: { ideal: 30 } }, audio: false })
		.catch((error) => {
			const refused = (error as DOMException).name === 'NotAllowedError';
			throw new Error(refused ? 'Nothing was shared.' : `The screen cannot be shared (${(error as Error).message}).`);
		});
}

/** @throws with a sentence when the share has ended or was never begun in this tab */
export function openShare(name: string, stream: MediaStream | undefined): OpenSource {
	const track = stream?.getVideoTracks().find(({ readyState }) => readyState === 'live');
	if (!track) throw new Error(`${name} is not shared any more. Press Share again beside its name.`);
	const open: OpenSource = {
		picture: { frames: new MediaStreamTrackProcessor({ track: track as MediaStreamVideoTrack }).readable },
		onLost: null,
		close: () => track.stop(),
	};
	track.addEventListener('ended', () =>
		open.onLost?.(`The sharing of ${name} has ended. Press Share again beside its name.`),
	);
	return open;
}
