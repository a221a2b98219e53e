/** Opens what an address names behind its `#`, such as `#source-lectern`: the line check leads there. */
import type { DeskSession } from '../desk/desk-session.svelte.ts';

/** @returns true where something was opened; a place of the page itself the browser finds by its id */
export function openPlace(session: DeskSession, hash: string): boolean {
	const { setup } = session.state;
	const [, what = '', id = ''] = /^#([a-z]+)(?:-(.+))?$/u.exec(hash) ?? [];
	const is = (list: readonly { id: string }[]) => list.some((each) => each.id === id);
	if (what === 'add') session.adding = true;
	else if (what === 'source' && is(setup.sources)) session.sheet.editSource(id);
	else if (what === 'channel' && is(setup.channels)) session.sheet.editChannel(id);
	else if (what === 'cue' && is(setup.cues)) session.sheet.editCue(id);
	else return false;
	return true;
}
