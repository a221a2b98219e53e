/**
 * What is measured of sounds as they come in: by how much a channel must wait for another of the same thing or for a
 * picture, and whether it hears the headphones.
 */
import type { ClapEstimate } from '../core/sound/clap.ts';
import type { DelayEstimate } from '../core/sound/delay-estimate.ts';
import { ECHO_LISTEN_S, echoTone } from '../core/sound/echo.ts';
import type { Engine } from './engine.ts';
import { inDelayWorker } from './in-delay-worker.ts';

/** Long enough for a sentence, and for three claps. */
export const SOUNDS_S = 5;
export const CLAP_S = 8;

/** @returns by how much the second channel's sound is behind the first's, as they come in */
export async function measureSounds(
	engine: Engine,
	early: string,
	late: string,
	seconds = SOUNDS_S,
): Promise<DelayEstimate> {
	const { sounds } = await engine.captureSounds([early, late], seconds);
	return inDelayWorker({ measure: 'sounds', early: sounds[0]!, late: sounds[1]! }) as Promise<DelayEstimate>;
}

/** @returns by how much a source's picture is behind a channel's sound, as it comes in */
export async function measureClap(engine: Engine, channelId: string, sourceId: string): Promise<ClapEstimate> {
	const [{ sounds, startMs }, motion] = await Promise.all([
		engine.captureSounds([channelId], CLAP_S),
		engine.watchMotion(sourceId, CLAP_S),
	]);
	return inDelayWorker({ measure: 'clap', motion, sound: sounds[0]!, startMs }) as Promise<ClapEstimate>;
}

/**
 * Plays a short tone to the headphones, and once more when somebody seems to hear it: what is said may be like it once.
 * @returns the channels that hear it
 */
export async function measureEcho(engine: Engine, channelIds: readonly string[]): Promise<string[]> {
	const ids = channelIds.filter((id) => engine.inputOf(id) !== null);
	const tone = echoTone();
	const looks = new Map<string, Float32Array[]>(ids.map((id) => [id, []]));
	for (let look = 0; look < 2 && looks.size > 0; look++) {
		const asked = [...looks.keys()];
		const { sounds } = await engine.captureSounds(asked, ECHO_LISTEN_S, tone);
		asked.forEach((id, i) => looks.get(id)!.push(sounds[i]!));
		const hear = (await inDelayWorker({ measure: 'echo', tone, looks: [...looks.values()] })) as boolean[];
		asked.forEach((id, i) => hear[i] || looks.delete(id));
	}
	return [...looks.keys()];
}
