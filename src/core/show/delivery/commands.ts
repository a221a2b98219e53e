/** Commands about delivery: destinations of the event, how it is sent, and what the line carries. */
import * as v from 'valibot';
import { idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import { refuse } from '../../refusal.ts';
import { commands, withLive, withSetup, type Handlers } from '../slice.ts';
import { deliverySchema, lineSchema, MOST_LINES } from './delivery.ts';
import { destinationSchema, MOST_DESTINATIONS, type Destination } from './destination.ts';

export const deliveryCommands = commands({
	removeDestination: { destinationId: idSchema },
	/** Brings back one that was removed from this event. */
	returnDestination: { destinationId: idSchema, at: placeSchema },
	tickDestination: { destinationId: idSchema, ticked: v.boolean() },
	setDelivery: { delivery: deliverySchema },
});

/** Where a program is sent, and what was measured, no page may say by itself. */
export const deliveryServerCommands = commands({
	addDestination: { destination: destinationSchema, at: placeSchema },
	changeDestination: { destination: destinationSchema },
	addLine: { line: lineSchema },
});

const destinations = collection<Destination>({
	what: 'destination',
	most: MOST_DESTINATIONS,
	list: ({ setup }) => setup.destinations,
	put: (state, list) => withSetup(state, { destinations: list }),
	adding: ({ id }, at) => [{ type: 'returnDestination', destinationId: id, at }],
	// Its address is the organisation's; an event does not bring back a former one.
	changing: () => [],
	removing: ({ id: destinationId }) => [{ type: 'removeDestination', destinationId }],
});

export const deliveryHandlers: Handlers<typeof deliveryCommands & typeof deliveryServerCommands> = {
	addDestination: (state, { destination, at }) => destinations.add(state, destination, at),
	changeDestination: (state, { destination }) => destinations.change(state, destination.id, () => destination),
	removeDestination(state, { destinationId }) {
		const removed = destinations.get(state, destinationId);
		const { state: without, inverse } = destinations.remove(state, destinationId);
		const others = state.live.removedDestinations.filter(({ id }) => id !== destinationId);
		const removedDestinations = [...others, removed].slice(-MOST_DESTINATIONS);
		return { state: withLive(without, { removedDestinations }), inverse };
	},
	returnDestination(state, { destinationId, at }) {
		const removed = state.live.removedDestinations.find(({ id }) => id === destinationId);
		if (!removed) throw refuse('gone', { what: 'destination' });
		const removedDestinations = state.live.removedDestinations.filter((each) => each !== removed);
		return destinations.add(withLive(state, { removedDestinations }), removed, at);
	},
	tickDestination(state, { destinationId, ticked }) {
		const { ticked: before } = destinations.get(state, destinationId);
		const changed = destinations.change(state, destinationId, (each) => ({ ...each, ticked }));
		return { ...changed, inverse: [{ type: 'tickDestination', destinationId, ticked: before }] };
	},
	setDelivery: (state, { delivery }) => ({
		state: withSetup(state, { delivery }),
		inverse: [{ type: 'setDelivery', delivery: state.setup.delivery }],
	}),
	addLine: (state, { line }) => ({
		state: withLive(state, { lines: [...state.live.lines, line].slice(-MOST_LINES) }),
		inverse: [],
	}),
};
