import type { AmfObject } from './amf0.ts';
import type { AudioConfig, VideoConfig } from './uplink.ts';

/** The `onMetaData` object that hosts and players read (FLV specification, annex E.5). */
export function metaDataOf(video: VideoConfig, audio: AudioConfig): AmfObject {
	return {
		duration: 0,
		width: video.width,
		height: video.height,
		framerate: video.fps,
		videodatarate: video.bitrateKbps,
		videocodecid: 7,
		audiodatarate: audio.bitrateKbps,
		audiosamplerate: audio.sampleRate,
		audiosamplesize: 16,
		stereo: audio.channels === 2,
		audiocodecid: 10,
		encoder: 'Bivvo',
	};
}
