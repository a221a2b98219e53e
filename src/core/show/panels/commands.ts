/** Commands about panels. */
import { countSchema, idSchema, placeSchema } from '../basics.ts';
import { collection } from '../collection.ts';
import { commands, withSetup, type Handlers } from '../slice.ts';
import { MOST_PANELS, panelSchema, type Panel } from './panel.ts';

export const panelCommands = commands({
	addPanel: { panel: panelSchema, at: placeSchema },
	changePanel: { panel: panelSchema },
	removePanel: { panelId: idSchema },
	movePanel: { panelId: idSchema, at: countSchema },
});

const panels = collection<Panel>({
	what: 'panel',
	most: MOST_PANELS,
	list: ({ setup }) => setup.panels,
	put: (state, list) => withSetup(state, { panels: list }),
	adding: (panel, at) => [{ type: 'addPanel', panel, at }],
	changing: (panel) => [{ type: 'changePanel', panel }],
	removing: ({ id: panelId }) => [{ type: 'removePanel', panelId }],
	moving: (panelId, at) => ({ type: 'movePanel', panelId, at }),
});

export const panelHandlers: Handlers<typeof panelCommands> = {
	addPanel: (state, { panel, at }) => panels.add(state, panel, at),
	changePanel: (state, { panel }) => panels.change(state, panel.id, () => panel),
	removePanel: (state, { panelId }) => panels.remove(state, panelId),
	movePanel: (state, { panelId, at }) => panels.move(state, panelId, at),
};
