/** How sources of each kind are opened. Kinds that the picture engine draws itself are not. */
import type { ClipSource } from '../../core/show/clips/source.ts';
import type { KindName } from '../../core/show/sources/kinds.ts';
import type { Source, SourceOf } from '../../core/show/sources/source.ts';
import type { OpenSource, SourceContext } from './open-source.ts';

export interface OpenKind<S = Source> {
	/** @throws {SourceFault} when the source cannot be opened */
	open(source: S, context: SourceContext): Promise<OpenSource>;
	/** True when only a person's press can open it: it is not tried again by itself. */
	needsPerson?: boolean;
	/** What a source is opened from; its whole origin when absent. Another one opens it anew. */
	from?(source: S): object;
	/** True when it may come to life again by being opened anew. */
	isDevice?: boolean;
}

/** What a clip is decoded from; how it ends and when it starts is no matter of its worker. */
function clipFrom({ items, repeats, shuffled }: ClipSource): object {
	return { items, repeats, shuffled };
}

export const OPEN_KINDS: { [K in KindName]?: OpenKind<SourceOf<K>> } = {
	camera: {
		open: async (source, context) => (await import('./device.ts')).openCamera(source, context),
		isDevice: true,
	},
	microphone: {
		open: async (source, context) => (await import('./device.ts')).openMicrophone(source, context),
		isDevice: true,
	},
	network: {
		open: async (source, context) => (await import('./network.ts')).openNetwork(source, context),
		// What it could send is no matter of what it sends.
		from: ({ cameraId }) => ({ cameraId }),
	},
	screen: {
		open: async (source, context) => (await import('./screen.ts')).openScreen(source, context),
		needsPerson: true,
	},
	seat: {
		open: async (source, context) => (await import('./seat.ts')).openSeat(source, context),
		// What is drawn in an empty one is no matter of who sits in it.
		from: ({ shows }) => ({ shows }),
	},
	still: { open: async (source, context) => (await import('./still.ts')).openStill(source, context) },
	clip: { open: async (source, context) => (await import('./clip.ts')).openClip(source, context), from: clipFrom },
	soundClip: { open: async (source, context) => (await import('./clip.ts')).openClip(source, context), from: clipFrom },
	standInCamera: {
		open: async ({ standIn }, context) => (await import('./stand-ins.ts')).openStandIn(standIn, context),
	},
	standInConsole: {
		open: async ({ standIn }, context) => (await import('./stand-ins.ts')).openStandIn(standIn, context),
	},
};
