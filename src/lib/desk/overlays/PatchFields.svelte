<script lang="ts">
	/** One privacy patch by words and numbers. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import type { PrivacyPatch } from '../../../core/show/overlays/overlay.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import NameField from '../../ui/NameField.svelte';
	import SliderField from '../../ui/SliderField.svelte';
	import { overlays as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	interface Props {
		patch: PrivacyPatch;
		onchange: (patch: PrivacyPatch, done: boolean) => void;
	}
	let { patch, onchange }: Props = $props();
	const session = useDesk();

	const change = (part: Partial<PrivacyPatch>, done = true) => onchange({ ...patch, ...part }, done);
	function remove() {
		session.doWithUndo({ type: 'removePatch', patchId: patch.id }, words.patchRemoved(patch.name));
	}
	const STYLES = { blur: words.blurred, mosaic: words.mosaic, solid: words.solid } as const;
</script>

<div class="grid gap-1 rounded-sm border border-slate-rule p-1.5">
	<div class="flex items-center gap-1">
		<NameField label={words.namePatch} value={patch.name} onchange={(name) => change({ name })} />
		<Button look="icon" aria-label={words.removePatch(patch.name)} onclick={remove}
			><TrashBinOutline class="size-4" /></Button
		>
	</div>
	<Checkbox checked={patch.on} onchange={() => change({ on: !patch.on })}
		>{patch.on ? words.unreadable : words.offEverythingCanRead}</Checkbox
	>
	<ChoiceField
		label={words.lookPatch}
		value={patch.style}
		choices={choicesOf(STYLES)}
		onchange={(style) => change({ style })}
	/>
	{#if patch.style !== 'solid'}
		<SliderField
			label={words.strength}
			min={1}
			max={10}
			step={1}
			value={patch.strength}
			text={String(patch.strength)}
			onchange={(strength) => change({ strength }, false)}
		/>
	{/if}
	{#if patch.sourceId !== null}
		<Checkbox checked={patch.follow} onchange={() => change({ follow: !patch.follow })}
			>{words.followsPageWhenScrolls}</Checkbox
		>
	{/if}
	{#if patch.sourceId === null}
		<div class="grid grid-cols-2 gap-1">
			{#each [['x', words.left], ['y', words.top], ['width', words.width], ['height', words.height]] as const as [side, label] (side)}
				<Label class="flex items-center gap-1 text-xs dark:text-gray-300">
					<span class="w-9">{label}</span>
					<Input
						size="sm"
						type="number"
						class="figures"
						min={side === 'x' || side === 'y' ? 0 : 2}
						max="100"
						value={Math.round(patch.area[side] * 100)}
						onchange={({ currentTarget }) => {
							const area = { ...patch.area, [side]: (currentTarget.valueAsNumber || 0) / 100 };
							const width = Math.min(1, Math.max(0.02, area.width));
							const height = Math.min(1, Math.max(0.02, area.height));
							change({
								area: {
									width,
									height,
									x: Math.min(1 - width, Math.max(0, area.x)),
									y: Math.min(1 - height, Math.max(0, area.y)),
								},
							});
						}}
					/>
				</Label>
			{/each}
		</div>
	{/if}
</div>
