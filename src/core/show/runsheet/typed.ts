/** A line of the run sheet as somebody types it: perhaps a time of day, then what happens. */
import { MOST_NAME_LETTERS } from '../basics.ts';
import type { Scene } from '../scenes/scene.ts';
import type { Setup } from '../state.ts';
import { canStart, isClip } from '../clips/source.ts';
import { plainCue, type Cue } from './cue.ts';

/**
 * Makes a cue of what was typed. One that has the name of a scene takes that scene; if a clip is what is seen there, it
 * ends when that does.
 * @returns null when nothing was typed
 */
export function typedCue(
	id: string,
	typed: string,
	{ scenes, sources }: Pick<Setup, 'scenes' | 'sources'>,
): Cue | null {
	const [, hour, minute, second, rest] = /^\s*(?:(\d{1,2})[:.](\d{2})(?::(\d{2}))?\s+)?(.*)$/s.exec(typed) ?? [];
	const name = (rest ?? '').trim().slice(0, MOST_NAME_LETTERS);
	if (name === '') return null;
	const isTime = hour !== undefined && Number(hour) < 24 && Number(minute) < 60 && Number(second ?? 0) < 60;
	const plannedAt = isTime ? `${hour.padStart(2, '0')}:${minute}${second ? `:${second}` : ''}` : '';
	const scene = scenes.find((each) => each.name.toLowerCase() === name.toLowerCase());
	return {
		...plainCue(id, isTime || hour === undefined ? name : typed.trim().slice(0, MOST_NAME_LETTERS)),
		plannedAt,
		...(scene && takenBy(scene, sources)),
	};
}

/** A cue that takes a scene; if a clip is what is seen there, it ends when that does. */
export function cueOfScene(id: string, scene: Scene, { sources }: Pick<Setup, 'sources'>): Cue {
	return { ...plainCue(id, scene.name), ...takenBy(scene, sources) };
}

/** A cue for a source: it takes the scene that shows it first, or plays what is only heard. Null for what does neither. */
export function cueOfSource(id: string, sourceId: string, setup: Pick<Setup, 'scenes' | 'sources'>): Cue | null {
	const scene = setup.scenes.find(({ layers }) => layers[0]?.sourceId === sourceId);
	if (scene) return cueOfScene(id, scene, setup);
	const source = setup.sources.find((each) => each.id === sourceId);
	return isClip(source) ? { ...plainCue(id, source.name), plays: [sourceId] } : null;
}

/** What a scene shows begins with it: a clip plays and ends the cue, a countdown for some time starts. */
function takenBy({ id: sceneId, layers }: Scene, sources: Setup['sources']): Pick<Cue, 'sceneId' | 'follow' | 'plays'> {
	const counts = sources.filter((source) => !isClip(source) && canStart(source));
	const plays = counts.map(({ id }) => id).filter((id) => layers.some(({ sourceId }) => sourceId === id));
	const clip = sources.find((source) => isClip(source) && layers[0]?.sourceId === source.id);
	return { sceneId, plays, follow: isClip(clip) && !clip.repeats ? { by: 'clip', sourceId: clip.id } : { by: 'go' } };
}
