<script lang="ts">
	/** A source's own picture, with its framings or its patches to be placed by hand. */
	import type { Box } from '../../core/show/basics.ts';
	import type { Source } from '../../core/show/source.ts';
	import { isSourceOnAir, type ShowState } from '../../core/show/state.ts';
	import Placer from './Placer.svelte';
	import type { DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
		source: Source;
		/** What is placed: framings keep the picture's shape, patches have any. */
		placing: 'framings' | 'patches';
		selected: string | null;
	}
	let { session, show, source, placing, selected = $bindable() }: Props = $props();

	const onAir = $derived(isSourceOnAir(show, source.id));
	const condition = $derived(session.conditions.get(source.id));
	const patches = $derived(show.patches.filter(({ sourceId }) => sourceId === source.id));
	const items = $derived(
		placing === 'framings'
			? source.framings.map(({ id, name, crop }) => ({ id, name, box: crop }))
			: patches.map(({ id, name, area }) => ({ id, name, box: area })),
	);

	function place(id: string, box: Box) {
		if (placing === 'framings') {
			const framings = source.framings.map((each) => (each.id === id ? { ...each, crop: box } : each));
			session.do({ type: 'changeSource', source: { ...source, framings } });
		} else {
			const patch = patches.find((each) => each.id === id);
			if (patch) session.do({ type: 'changePatch', patch: { ...patch, area: box } });
		}
	}
</script>

<section class="flex min-h-0 flex-[5] flex-col gap-2" aria-label="Picture of {source.name}">
	<p class="border-l-8 px-2 py-1 text-sm font-semibold {onAir ? 'border-air bg-air/30' : 'border-lamp bg-slate-panel'}">
		{#if onAir}{source.name} is on air: viewers see what you change at once.{/if}
		{#if items.length > 0}{source.name}: place its {placing} by hand. They hold wherever it is shown.
		{:else}{source.name}, as it is shown.{/if}
	</p>
	<div class="flex min-h-0 flex-1 justify-center">
		<Placer
			{session}
			subject={{ sourceId: source.id }}
			label={source.name}
			{items}
			bind:selected
			of={condition?.width ? condition : null}
			keepShape={placing === 'framings'}
			inside
			onchange={place}
		/>
	</div>
</section>
