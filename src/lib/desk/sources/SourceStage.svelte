<script lang="ts">
	/** A source's own picture, with its framings or its patches to be placed by hand. */
	import type { Source } from '../../../core/show/sources/source.ts';
	import { isSourceOnAir } from '../../../core/show/state.ts';
	import Button from '../../ui/Button.svelte';
	import { undoKey } from '../../ui/undo-key.ts';
	import { sources as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import Placer from '../pictures/Placer.svelte';
	import type { SourceEditing } from './source-editing.svelte.ts';

	let { editing, source }: { editing: SourceEditing; source: Source } = $props();
	const session = useDesk();

	const onAir = $derived(isSourceOnAir(session.state, source.id));
	const condition = $derived(session.conditions.get(source.id));
	const items = $derived(
		editing.placing === 'framings'
			? source.framings.map(({ id, name, crop }) => ({ id, name, box: crop }))
			: editing.patches.map(({ id, name, area }) => ({ id, name, box: area })),
	);
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
	class="flex min-h-[13.5rem] flex-[5] flex-col gap-2"
	aria-label={words.pictureOf(source.name)}
	onkeydown={undoKey(() => editing.undo())}
>
	<div class="flex items-center gap-2 border-l-8 px-2 {onAir ? 'border-air bg-air/30' : 'border-lamp bg-slate-panel'}">
		<p class="flex-1 py-1 text-sm font-semibold">
			{#if onAir}{words.onAirViewersSeeWhat(source.name)}{/if}
			{#if items.length > 0}{words.placeByHandTheyHold(source.name, editing.placing)}
			{:else}{words.asShown(source.name)}{/if}
		</p>
		<Button size="sm" disabled={!editing.canUndo} onclick={() => editing.undo()}>{words.undo}</Button>
	</div>
	<div class="flex min-h-0 flex-1 justify-center">
		<Placer
			subject={{ sourceId: source.id }}
			label={source.name}
			{items}
			bind:selected={editing.selected}
			of={condition?.width ? condition : null}
			keepShape={editing.placing === 'framings'}
			inside
			onchange={(id, box, done) => editing.place(id, box, done)}
		/>
	</div>
</section>
