/** A sound that goes round and round, at the same place for whoever plays it. */

const LOOP_S = 20;

/** Plays a file of 20 s by the clock of its context, until it is stopped. @throws when it cannot be had or read */
export async function playLoop(audio: AudioContext, url: string): Promise<AudioBufferSourceNode> {
	const response = await fetch(url);
	const buffer = await audio.decodeAudioData(await response.arrayBuffer());
	const player = new AudioBufferSourceNode(audio, { buffer, loop: true, loopEnd: Math.min(LOOP_S, buffer.duration) });
	const startS = audio.currentTime + 0.1;
	player.start(startS, startS % LOOP_S);
	// A sound that leads nowhere stands still until somebody listens.
	player.connect(new GainNode(audio, { gain: 0 })).connect(audio.destination);
	return player;
}
