/** The sentences for what is wrong with sources. */
import type { Gone } from '../../../core/ingest/feed.ts';
import type { Fault, FaultCode, Faults } from '../../../engine/sources/fault.ts';

/** Why a camera of the network has ended. */
const CAMERA_ENDED: Record<Gone, (name: string) => string> = {
	left: (name) => `${name} has stopped sending. Let it send again; it comes back by itself.`,
	torn: (name) => `The connection of ${name} broke. Check its network and its power; it comes back by itself.`,
	otherCodec: (name) =>
		`${name} sends a format that cannot be used. Set it to H.264 for the picture and AAC for the sound.`,
	rubbish: (name) => `${name} sends something that cannot be read. Restart it, and set it to H.264 and AAC.`,
	flood: (name) => `${name} sends far too much. Set it to 20 Mbit/s or less.`,
	renewed: (name) => `${name} still has its former key. Type the new one into it.`,
};

/** @param name of the source, as people call it */
const SENTENCES: { [C in FaultCode]: (about: Faults[C], name: string) => string } = {
	notConnected: ({ label }) => `${label} is not connected. Plug it in; it comes back by itself.`,
	unplugged: ({ label }) => `${label} was unplugged. Plug it in; it comes back by itself.`,
	inUse: ({ label }) => `${label} is in use by another program. Close that program; it comes back by itself.`,
	notAllowed: ({ label }) =>
		`The browser may not use the ${label}. Allow it beside the address of this page, then try again.`,
	absent: ({ label }) => `There is no ${label} on this machine.`,
	notOffered: ({ label }) => `${label} is not connected, or does not offer the size that was asked for.`,
	cannotOpen: ({ label, problem }) => `${label} cannot be opened (${problem}).`,
	noOwnSound: ({ label }) => `${label} has no microphone of its own. Add its sound as a source of its own.`,
	cannotShare: () => 'This browser cannot share a screen.',
	shareElsewhere: () => 'Share from the tab that makes the program.',
	shareRefused: () => 'Nothing was shared.',
	notShared: (_, name) => `${name} is not shared any more. Press Share again beside its name.`,
	shareEnded: (_, name) => `The sharing of ${name} has ended. Press Share again beside its name.`,
	fileGone: ({ fileName }) => `${fileName} is no longer on the server. Add it again.`,
	notAPicture: ({ fileName }) => `${fileName} is not a picture that can be read. Try PNG, JPEG, WebP or SVG.`,
	notAnSvg: ({ fileName }) => `${fileName} is not an SVG picture that can be read.`,
	file: ({ problem }) => problem,
	codec: ({ fileName, codec }) =>
		`${fileName} cannot be played in this browser (${codec}). Save it as MP4 with H.264 and AAC, and upload it again.`,
	nothingToPlay: ({ fileName }) => `${fileName} has neither picture nor sound.`,
	nothingArrives: (_, name) =>
		`Nothing arrives from ${name} yet. Type its address and key into the camera, and let it send; it appears by itself.`,
	cameraEnded: ({ why }, name) => CAMERA_ENDED[why](name),
	noStandIn: ({ name }) => `There is no stand-in called ${name}.`,
	standInBroken: ({ problem }, name) => `${name} is broken (${problem}).`,
	unreadable: ({ problem }, name) => `${name} ${problem}.`,
	noNewFrames: (_, name) => `${name} sends no new pictures. Check its cable and its power.`,
	black: (_, name) => `${name} is black. Is its lens covered, or its light off?`,
	frozen: (_, name) => `${name} stands still. Check the camera and its cable, or take another scene.`,
	pageLost: (_, name) =>
		`It is not certain where the page of ${name} has gone, so all of it is patched. Scroll back, or place the patch again.`,
};

/** What is wrong, and what to do. */
export function faultWords({ code, about }: Fault, name: string): string {
	return (SENTENCES[code] as (about: unknown, name: string) => string)(about, name);
}

/** What is wrong with a picture that is there, in a word or two. */
const SHORT: Partial<Record<FaultCode, string>> = { black: 'Black', frozen: 'Stands still', pageLost: 'All patched' };

export function faultShort({ code }: Fault): string {
	return SHORT[code] ?? 'No picture';
}
