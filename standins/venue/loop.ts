/** Sounds that go round and round, at the same place for whoever plays them. */

const LOOP_S = 20;

/** The first side of a file, at the context's rate. @throws when it cannot be had or read */
export async function readLoop(audio: BaseAudioContext, url: string): Promise<Float32Array<ArrayBuffer>> {
	return (await read(audio, url)).getChannelData(0).slice(0, LOOP_S * audio.sampleRate);
}

/** Plays a file of 20 s by the clock of its context, until it is stopped. @throws when it cannot be had or read */
export async function playLoop(audio: AudioContext, url: string): Promise<AudioBufferSourceNode> {
	const buffer = await read(audio, url);
	const player = new AudioBufferSourceNode(audio, { buffer, loop: true, loopEnd: Math.min(LOOP_S, buffer.duration) });
	const startS = audio.currentTime + 0.1;
	player.start(startS, startS % LOOP_S);
	// A sound that leads nowhere stands still until somebody listens.
	player.connect(new GainNode(audio, { gain: 0 })).connect(audio.destination);
	return player;
}

async function read(audio: BaseAudioContext, url: string): Promise<AudioBuffer> {
	const response = await fetch(url);
	return audio.decodeAudioData(await response.arrayBuffer());
}
