/** How each kind of source is shown. */
import type { Source } from '../../core/show/sources/source.ts';
import { camera } from './camera/kind.ts';
import { card } from './card/kind.ts';
import { clip, soundClip } from './clip/kind.ts';
import { clock } from './clock/kind.ts';
import { colour } from './colour/kind.ts';
import type { ShownKind, ShownKinds } from './kind.ts';
import { microphone } from './microphone/kind.ts';
import { network } from './network/kind.ts';
import { screen } from './screen/kind.ts';
import { seat } from './seat/kind.ts';
import { standInCamera, standInConsole } from './stand-in/kind.ts';
import { still } from './still/kind.ts';

const SHOWN_KINDS: ShownKinds = {
	camera,
	microphone,
	network,
	screen,
	seat,
	still,
	clip,
	soundClip,
	card,
	clock,
	colour,
	standInCamera,
	standInConsole,
};

/** How a source is shown. */
export function shownKindOf({ kind }: Pick<Source, 'kind'>): ShownKind {
	return SHOWN_KINDS[kind] as unknown as ShownKind;
}
