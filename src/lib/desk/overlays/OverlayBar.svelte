<script lang="ts">
	/** Overlays and patches: one press on, one press off, also while on air. */
	import { withFields } from '../../../core/show/event/fields.ts';
	import { isShown, type Overlay } from '../../../core/show/overlays/overlay.ts';
	import { useNow } from '../../show/now.svelte.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { crew as crewWords, overlays as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	const session = useDesk();
	const show = $derived(session.state);

	const clock = useNow(session.show);
	/** Which are to be seen now, as they come and go. */
	const shownIds = $derived(
		show.setup.overlays
			.filter((overlay) => isShown(overlay, show.live.shown[overlay.id], clock.now))
			.map(({ id }) => id)
			.join(' '),
	);
	const shown = ({ id }: Overlay) => shownIds.split(' ').includes(id);

	const { people } = $derived(withFields(show.setup));
	const personOf = (overlay: Overlay) =>
		overlay.kind === 'lowerThird' ? people.find(({ id }) => id === overlay.personId) : undefined;
	function toggle(overlay: Overlay) {
		const { id: overlayId } = overlay;
		session.do(shown(overlay) ? { type: 'hideOverlay', overlayId } : { type: 'showOverlay', overlayId });
	}
	const labelOf = (overlay: Overlay) =>
		overlay.kind === 'lowerThird' ? (personOf(overlay)?.name ?? words.nobodyChosen) : overlay.name;
</script>

<section
	class="col-span-3 flex items-center gap-2 overflow-x-auto border-t border-slate-rule bg-slate-panel px-2 py-1.5"
	aria-label={words.overlays}
>
	<h2 class="text-sm font-semibold text-gray-300">{words.abovePicture}</h2>
	{#each show.setup.overlays as overlay (overlay.id)}
		<span class="flex items-center">
			<Button
				size="sm"
				class="max-w-52 truncate"
				aria-pressed={shown(overlay)}
				disabled={overlay.kind === 'lowerThird' && !personOf(overlay)}
				onpress={() => toggle(overlay)}
			>
				{shown(overlay) ? words.hide : words.show}
				{labelOf(overlay)}
			</Button>
			{#if overlay.kind === 'lowerThird' && show.setup.people.length > 0}
				<ChoiceField
					class="w-9"
					label={words.whoNamedBy(overlay.name)}
					value={overlay.personId}
					choices={people.map(({ id, name, role }) => [id, role ? `${name}, ${role}` : name])}
					onchange={(personId) =>
						personId !== null &&
						session.do(
							shown(overlay)
								? { type: 'showOverlay', overlayId: overlay.id, personId }
								: { type: 'changeOverlay', overlay: { ...overlay, personId } },
						)}
				/>
			{/if}
		</span>
	{:else}
		<span class="text-sm text-gray-300">{words.nothingYet}</span>
	{/each}
	{#each show.setup.patches as patch (patch.id)}
		<Button
			size="sm"
			class="max-w-52 truncate"
			aria-pressed={patch.on}
			onpress={() => session.do({ type: 'changePatch', patch: { ...patch, on: !patch.on } })}
		>
			{patch.on ? words.patched : words.patch}
			{patch.name}
		</Button>
	{/each}
	<Button size="sm" class="ml-auto whitespace-nowrap" onclick={() => session.sheet.writeToCrew()}
		>{crewWords.messages}</Button
	>
	<Button size="sm" class="whitespace-nowrap" onclick={() => session.sheet.editOverlays()}
		>{words.namesOverlaysMenu}</Button
	>
</section>
