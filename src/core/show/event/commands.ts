/** Commands about the event as a whole. */
import { nameSchema } from '../basics.ts';
import { refuse } from '../../refusal.ts';
import { commands, withSetup, type Handlers } from '../slice.ts';
import { isOnAir } from '../state.ts';
import { pictureSchema } from './picture.ts';

export const eventCommands = commands({
	renameEvent: { title: nameSchema },
	setPicture: { picture: pictureSchema },
});

export const eventHandlers: Handlers<typeof eventCommands> = {
	renameEvent: (state, { title }) => ({
		state: withSetup(state, { title }),
		inverse: [{ type: 'renameEvent', title: state.setup.title }],
	}),
	setPicture(state, { picture }) {
		if (isOnAir(state)) throw refuse('pictureFixed', {});
		return { state: withSetup(state, { picture }), inverse: [{ type: 'setPicture', picture: state.setup.picture }] };
	},
};
