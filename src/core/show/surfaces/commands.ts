/** Commands about control surfaces: what their controls do at this event. */
import { nameSchema } from '../basics.ts';
import { refuse } from '../../refusal.ts';
import { commands, withSetup, type Handlers } from '../slice.ts';
import { surfaceProfileSchema } from '../../surface/profile.ts';

/** Surfaces of one event. */
export const MOST_SURFACES = 8;

export const surfaceCommands = commands({
	/** Keeps what the controls of a surface do, in place of what they did; surfaces are known by their names. */
	putSurface: { profile: surfaceProfileSchema },
	removeSurface: { name: nameSchema },
});

export const surfaceHandlers: Handlers<typeof surfaceCommands> = {
	putSurface(state, { profile }) {
		const { surfaces } = state.setup;
		const { name } = profile;
		const before = surfaces.find((each) => each.name === name);
		if (!before && surfaces.length >= MOST_SURFACES) throw refuse('tooMany', { what: 'surface', most: MOST_SURFACES });
		const others = surfaces.filter((each) => each !== before);
		return {
			state: withSetup(state, { surfaces: [...others, profile] }),
			inverse: [before ? { type: 'putSurface', profile: before } : { type: 'removeSurface', name }],
		};
	},
	removeSurface(state, { name }) {
		const before = state.setup.surfaces.find((each) => each.name === name);
		if (!before) throw refuse('gone', { what: 'surface' });
		return {
			state: withSetup(state, { surfaces: state.setup.surfaces.filter((each) => each !== before) }),
			inverse: [{ type: 'putSurface', profile: before }],
		};
	},
};
