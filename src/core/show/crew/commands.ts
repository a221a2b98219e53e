/** Commands about messages among the crew. */
import * as v from 'valibot';
import { idSchema, nameSchema } from '../basics.ts';
import { refuse } from '../../refusal.ts';
import { commands, withLive, withSetup, type Handlers } from '../slice.ts';
import { crewTextSchema, crewToSchema, MOST_CREW_MESSAGES, MOST_PREPARED } from './crew.ts';

export const crewCommands = commands({
	sendCrew: { messageId: idSchema, text: crewTextSchema, to: crewToSchema, from: nameSchema },
	seeCrew: { messageId: idSchema, by: nameSchema },
	/** Messages that are a press away. */
	setPrepared: { texts: v.pipe(v.array(crewTextSchema), v.maxLength(MOST_PREPARED)) },
});

export const crewHandlers: Handlers<typeof crewCommands> = {
	sendCrew(state, { messageId: id, text, to, from }, at) {
		const { crew } = state.live;
		if (crew.some((each) => each.id === id)) throw refuse('exists', { what: 'message' });
		const message = { id, text, to, from, at, seenBy: [] };
		// What was said stays said.
		return { state: withLive(state, { crew: [...crew, message].slice(-MOST_CREW_MESSAGES) }), inverse: [] };
	},
	seeCrew(state, { messageId, by }) {
		const { crew } = state.live;
		if (!crew.some(({ id }) => id === messageId)) throw refuse('gone', { what: 'message' });
		const seen = crew.map((each) =>
			each.id !== messageId || each.seenBy.includes(by) || each.seenBy.length >= MOST_CREW_MESSAGES
				? each
				: { ...each, seenBy: [...each.seenBy, by] },
		);
		return { state: withLive(state, { crew: seen }), inverse: [] };
	},
	setPrepared: (state, { texts }) => ({
		state: withSetup(state, { prepared: texts }),
		inverse: [{ type: 'setPrepared', texts: state.setup.prepared }],
	}),
};
