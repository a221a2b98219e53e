/** Seats: the picture and the sound of whoever has been given one. What an empty one shows is drawn. */
import type { SourceOf } from '../../core/show/sources/source.ts';
import { framesOf, type OpenSource, type SourceContext } from './open-source.ts';

/** An empty seat is open as well: nothing is wrong with it. */
export function openSeat(
	{ id, shows }: Pick<SourceOf<'seat'>, 'id' | 'shows'>,
	{ seats, audio }: SourceContext,
): OpenSource {
	const { picture, sound } = seats.get(id) ?? { picture: null, sound: null };
	// A track of its own: the guest's goes on when somebody else gets the seat.
	const track = picture?.clone();
	const heard = sound && audio.createMediaStreamSource(new MediaStream([sound]));
	return {
		...(track && { picture: { frames: framesOf(track as MediaStreamVideoTrack) } }),
		...(heard && { sound: heard }),
		mustMove: track !== undefined && shows === 'camera',
		onLost: null,
		close() {
			heard?.disconnect();
			track?.stop();
		},
	};
}
