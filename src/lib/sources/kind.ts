/** How a kind of source is shown: its icon, its words, and what can be set of it. */
import type { Component } from 'svelte';
import type { KindName } from '../../core/show/sources/kinds.ts';
import type { Source, SourceOf } from '../../core/show/sources/source.ts';
import type { ShowState } from '../../core/show/state.ts';

export interface EditorProps<S> {
	source: S;
	show: ShowState;
	onchange: (source: S) => void;
}

export interface ShownKind<S = Source> {
	icon: Component<{ class?: string }>;
	/** What a source of this kind is called in a list of choices. */
	name: string;
	/** What is said of one that is there; its picture's size when absent. */
	there?: string;
	/** What is said of one instead, as the show has it. */
	inShow?(source: S, show: ShowState): string;
	/** What can be set of it beside framings, patches and corrections. */
	Editor?: Component<EditorProps<S>>;
}

export type ShownKinds = { [K in KindName]: ShownKind<SourceOf<K>> };
