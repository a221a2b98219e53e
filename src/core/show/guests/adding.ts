/** What is done about guests with one press: a seat with all that belongs to it, and a name on the screen. */
import { batchOf, partsOf, type PageCommand, type SingleCommand } from '../command.ts';
import { MOST_PICTURE_TRACKS } from '../delivery/tracks.ts';
import { plainChannel, withPreset } from '../mix/mix.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { addingSource } from '../sources/adding.ts';
import { plainSource } from '../sources/source.ts';
import type { ShowState } from '../state.ts';
import type { Guest } from './guest.ts';

/**
 * A seat with a scene that shows it, a channel for the voice that is heard with the picture, and both recorded apart as long
 * as there is room for them.
 * @param reservedFor link of a phone that is to be a camera
 */
export function addingSeat(
	state: ShowState,
	id: string,
	name: string,
	shows: 'camera' | 'screen',
	reservedFor: string | null = null,
): PageCommand {
	const source = plainSource(id, name, { kind: 'seat', shows, empty: 'name', reservedFor });
	const scenes = [plainScene(`${id}-scene`, name, [wholeLayer(`${id}-layer`, id)])];
	const voice = withPreset({ ...plainChannel(`${id}-channel`, id, name), follow: 'onAir' }, 'speaking voice');
	const channels = shows === 'camera' ? [voice] : [];
	const added = addingSource(state, source, { scenes, channels });
	const { delivery } = state.setup;
	const { sourceIds, channelIds } = delivery.apart;
	const apart = {
		sourceIds: sourceIds.length < MOST_PICTURE_TRACKS ? [...sourceIds, id] : sourceIds,
		channelIds: [...channelIds, ...channels.map((channel) => channel.id)],
	};
	// Nobody sits there yet, so that nothing of these scenes moves.
	const gathering =
		shows === 'camera' && reservedFor === null
			? state.setup.scenes.filter(({ gathers, locked }) => gathers && !locked)
			: [];
	const joining = gathering.map((scene): SingleCommand => ({
		type: 'changeScene',
		scene: { ...scene, layers: [...scene.layers, wholeLayer(`${id}-layer`, id)] },
		live: true,
	}));
	return batchOf([...singlesOf(added), ...joining, { type: 'setDelivery', delivery: { ...delivery, apart } }]);
}

/** A scene in which all guests stand side by side, as many as there are. */
export function addingGathering({ setup }: ShowState, id: string, name: string): PageCommand {
	const seats = setup.sources.filter(
		(source) => source.kind === 'seat' && source.shows === 'camera' && source.reservedFor === null,
	);
	const layers = seats.map((seat) => wholeLayer(`${seat.id}-layer`, seat.id));
	return { type: 'addScene', scene: { ...plainScene(id, name, layers), gathers: true } };
}

/**
 * Shows a guest's name in the first lower third there is, as a person of the event; null where there is none.
 * @param personId of a person who is not listed yet
 */
export function namingGuest(state: ShowState, { name }: Guest, personId: string): PageCommand | null {
	const overlay = state.setup.overlays.find(({ kind }) => kind === 'lowerThird');
	if (!overlay) return null;
	const known = state.setup.people.find((person) => person.name === name);
	const adding: SingleCommand[] = known ? [] : [{ type: 'addPerson', person: { id: personId, name, role: '' } }];
	return batchOf([...adding, { type: 'showOverlay', overlayId: overlay.id, personId: known?.id ?? personId }]);
}

function singlesOf(command: PageCommand): SingleCommand[] {
	return partsOf(command) as SingleCommand[];
}
