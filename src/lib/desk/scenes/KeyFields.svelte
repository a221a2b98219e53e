<script lang="ts">
	/** Makes a colour, or the dark or light, of a layer transparent. */
	import { Checkbox, Input } from 'flowbite-svelte';
	import { hexOf } from '../../../core/picture/colour.ts';
	import type { Key } from '../../../core/show/scenes/scene.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import Fold from '../../ui/Fold.svelte';
	import SliderField from '../../ui/SliderField.svelte';
	import { scenes as words } from '../../words/index.ts';
	import PickColour from '../pictures/PickColour.svelte';

	interface Props {
		sourceId: string;
		key: Key | null;
		/** The picture being edited shows what is see-through instead of the scene. */
		showsOpacity: boolean;
		onchange: (key: Key | null, done?: boolean) => void;
	}
	let { sourceId, key, showsOpacity = $bindable(), onchange }: Props = $props();

	let picking = $state(false);
	const percent = (value: number) => `${Math.round(value * 100)} %`;

	function choose(by: 'colour' | 'light' | null) {
		if (by === null) {
			onchange(null);
			showsOpacity = false;
		} else if (by === 'colour')
			onchange({ by: 'colour', colour: '#00b140', tolerance: 0.25, softness: 0.15, spill: 0.6 });
		else onchange({ by: 'light', low: 0.1, high: 0.25 });
	}
</script>

<Fold title={words.makeTransparent} open={key !== null}>
	<div class="mt-1 grid gap-1">
		<ChoiceField
			label={words.whatBecomesTransparent}
			value={key?.by ?? null}
			choices={[
				[null, words.nothing],
				['colour', words.oneColourSuchAsGreen],
				['light', words.darkPartsOrLightOnes],
			]}
			onchange={choose}
		/>
		{#if key}
			<Checkbox bind:checked={showsOpacity}>{words.showMaskWhiteStaysBlack}</Checkbox>
		{/if}
		{#if key?.by === 'colour'}
			<div class="flex items-center justify-between gap-2">
				<Input
					size="sm"
					type="color"
					class="h-8 w-12! shrink-0 p-1"
					aria-label={words.colour}
					value={key.colour}
					onchange={({ currentTarget }) => onchange({ ...key, colour: currentTarget.value })}
				/>
				<Button size="xs" class="flex-1" onclick={() => (picking = true)}>{words.pickFromPicture}</Button>
			</div>
			{#each [['tolerance', words.tolerance], ['softness', words.softEdge], ['spill', words.removeSpill]] as const as [name, label] (name)}
				<SliderField
					{label}
					min={0}
					max={1}
					value={key[name]}
					text={percent(key[name])}
					onchange={(value) => onchange({ ...key, [name]: value }, false)}
				/>
			{/each}
		{:else if key?.by === 'light'}
			{#each [['low', words.transparentAt], ['high', words.solidFrom]] as const as [name, label] (name)}
				<SliderField
					{label}
					min={0}
					max={1}
					value={key[name]}
					text={words.light(percent(key[name]))}
					onchange={(value) => onchange({ ...key, [name]: value }, false)}
				/>
			{/each}
		{/if}
	</div>
</Fold>

{#if key?.by === 'colour' && picking}
	<PickColour
		{sourceId}
		title={words.pressColourShouldBecomeTransparent}
		onpick={(colour) => onchange({ ...key, colour: hexOf(colour) })}
		bind:open={picking}
	/>
{/if}
