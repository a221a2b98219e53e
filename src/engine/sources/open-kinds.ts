/** How sources of each kind are opened. Kinds that the picture engine draws itself are not. */
import type { KindName } from '../../core/show/sources/kinds.ts';
import type { Source, SourceOf } from '../../core/show/sources/source.ts';
import type { OpenSource, SourceContext } from './open-source.ts';

export interface OpenKind<S = Source> {
	/** @throws {SourceFault} when the source cannot be opened */
	open(source: S, context: SourceContext): Promise<OpenSource>;
	/** True when only a person's press can open it: it is not tried again by itself. */
	needsPerson?: boolean;
	/** True when it may come to life again by being opened anew. */
	isDevice?: boolean;
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
	screen: {
		open: async (source, context) => (await import('./screen.ts')).openScreen(source, context),
		needsPerson: true,
	},
	still: { open: async (source, context) => (await import('./still.ts')).openStill(source, context) },
	standInCamera: {
		open: async ({ standIn }, context) => (await import('./stand-ins.ts')).openStandIn(standIn, context),
	},
	standInConsole: {
		open: async ({ standIn }, context) => (await import('./stand-ins.ts')).openStandIn(standIn, context),
	},
};
