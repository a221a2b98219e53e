<script lang="ts">
	/** The scene being edited, with its layers to be moved and resized by hand. */
	import { cropWithin, partWithin } from '../../../core/picture/geometry.ts';
	import { WHOLE } from '../../../core/show/basics.ts';
	import type { Scene } from '../../../core/show/scenes/scene.ts';
	import Button from '../../ui/Button.svelte';
	import { undoKey } from '../../ui/undo-key.ts';
	import { scenes as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import Placer from '../pictures/Placer.svelte';
	import type { SceneEditing } from './scene-editing.svelte.ts';

	let { editing, scene }: { editing: SceneEditing; scene: Scene } = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const items = $derived(
		(scene?.layers ?? [])
			.filter(({ hidden }) => !hidden)
			.map(({ id, sourceId, box }) => ({
				id,
				name: show?.setup.sources.find((s) => s.id === sourceId)?.name ?? '',
				box,
			})),
	);

	const layer = $derived(editing.layer);
	const framing = $derived(
		show?.setup.sources.find(({ id }) => id === layer?.sourceId)?.framings.find(({ id }) => id === layer?.framingId)
			?.crop ?? WHOLE,
	);
	const condition = $derived(layer ? session.conditions.get(layer.sourceId) : undefined);

	/** A source that was dropped takes the place of a layer's, fills an empty place, or comes as a new layer. */
	function fill(sourceId: string, on: string | number | null) {
		if (typeof on === 'string') editing.changeLayer(on, { sourceId, framingId: null });
		else editing.addLayer(sourceId, null, on ?? -1);
	}

	const back = undoKey(() => editing.undo());
	function keys(event: KeyboardEvent) {
		back(event);
		if (event.key === 'Delete' && editing.selected) editing.removeLayer(editing.selected);
		else if (event.key === 'Escape') session.sheet.close();
	}
</script>

{#if scene}
	<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
	<section class="flex min-h-[13.5rem] flex-[5] flex-col gap-2" aria-label={words.editing(scene.name)} onkeydown={keys}>
		<div
			class="flex flex-wrap items-center gap-2 border-l-8 px-2 {editing.onAir && editing.live
				? 'border-air bg-air/30'
				: 'border-lamp bg-slate-panel'}"
		>
			<p class="flex-1 py-1 text-sm font-semibold">
				{#if editing.onAir && editing.live}{words.editingLiveViewersSeeEvery(scene.name)}
				{:else if editing.onAir && editing.draft}{words.onAirYourChangesWait(scene.name)}
				{:else if editing.onAir}{words.onAirWhatYouChange(scene.name)}
				{:else}{words.editingViewersDoNotSee(scene.name)}{/if}
			</p>
			{#if editing.onAir}
				{#if editing.draft}
					<Button look="main" size="sm" onpress={() => session.do({ type: 'take', sceneId: scene.id })}
						>{words.takeChanges}</Button
					>
					<Button size="sm" onclick={() => editing.forget()}>{words.discardThem}</Button>
				{/if}
				<Button size="sm" aria-pressed={editing.live} onclick={() => (editing.live = !editing.live)}
					>{editing.live ? words.editingLive : words.editLive}</Button
				>
			{/if}
			<Button size="sm" disabled={!editing.canUndo} onclick={() => editing.undo()}>{words.undo}</Button>
		</div>
		<div class="flex min-h-0 flex-1 justify-center">
			{#if editing.hand === 'crop' && layer}
				<Placer
					subject={{ sourceId: layer.sourceId }}
					label={words.wholeSource}
					items={[{ id: layer.id, name: words.whatLayerShows, box: cropWithin(framing, layer.crop) }]}
					selected={layer.id}
					of={condition?.width ? condition : null}
					inside
					onchange={(id, box, done) => editing.changeLayer(id, { crop: partWithin(framing, box) }, done)}
				/>
			{:else}
				<Placer
					subject={{ sceneId: scene.id, changed: true, opacityOf: editing.showsOpacity ? editing.selected : null }}
					label={editing.showsOpacity ? words.whiteStaysBlackBecomesTransparent : words.beingEdited(scene.name)}
					{items}
					places={editing.places}
					bind:selected={editing.selected}
					onchange={(id, box, done) => editing.changeLayer(id, { box }, done)}
					onfill={fill}
				/>
			{/if}
		</div>
	</section>
{/if}
