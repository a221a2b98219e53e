/** All kinds of sources. A new one is added here, and in the registries of engine and interface. */
import { camera } from './kinds/camera.ts';
import { card } from './kinds/card.ts';
import { clip, soundClip } from './kinds/clip.ts';
import { clock } from './kinds/clock.ts';
import { colour } from './kinds/colour.ts';
import { microphone } from './kinds/microphone.ts';
import { network } from './kinds/network.ts';
import { screen } from './kinds/screen.ts';
import { seat } from './kinds/seat.ts';
import { standInCamera, standInConsole } from './kinds/stand-in.ts';
import { still } from './kinds/still.ts';

export const KINDS = {
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

export type KindName = keyof typeof KINDS;
