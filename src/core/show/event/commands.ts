/** Commands about the event as a whole. */
import { nameSchema } from '../basics.ts';
import { refuse } from '../../refusal.ts';
import { clockTimeSchema } from '../runsheet/cue.ts';
import { commands, withSetup, type Handlers } from '../slice.ts';
import { isOnAir } from '../state.ts';
import { lookSchema } from './look.ts';
import { pictureSchema } from './picture.ts';
import { startSchema, timeZoneSchema } from './time-zone.ts';

export const eventCommands = commands({
	renameEvent: { title: nameSchema },
	setPicture: { picture: pictureSchema },
	/** Planned start, a local time of the zone; empty for none. */
	setStart: { startsAt: startSchema, timeZone: timeZoneSchema },
	/** How cards, clocks, lower thirds and tickers look. */
	setLook: { look: lookSchema },
	/** When the evening should be over, a time of day; empty for none. */
	setOverAt: { overAt: clockTimeSchema },
});

export const eventHandlers: Handlers<typeof eventCommands> = {
	renameEvent: (state, { title }) => ({
		state: withSetup(state, { title }),
		inverse: [{ type: 'renameEvent', title: state.setup.title }],
	}),
	setStart: (state, { startsAt, timeZone }) => ({
		state: withSetup(state, { startsAt, timeZone }),
		inverse: [{ type: 'setStart', startsAt: state.setup.startsAt, timeZone: state.setup.timeZone }],
	}),
	setOverAt: (state, { overAt }) => ({
		state: withSetup(state, { overAt }),
		inverse: [{ type: 'setOverAt', overAt: state.setup.overAt }],
	}),
	setLook: (state, { look }) => ({
		state: withSetup(state, { look }),
		inverse: [{ type: 'setLook', look: state.setup.look }],
	}),
	setPicture(state, { picture }) {
		if (isOnAir(state)) throw refuse('pictureFixed', {});
		return { state: withSetup(state, { picture }), inverse: [{ type: 'setPicture', picture: state.setup.picture }] };
	},
};
