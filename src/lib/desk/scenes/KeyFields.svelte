<script lang="ts">
	/** Makes a colour, or the dark or light, of a layer transparent. */
	import { hexOf } from '../../../core/picture/colour.ts';
	import type { Key } from '../../../core/show/scenes/scene.ts';
	import SliderField from '../../ui/SliderField.svelte';
	import PickColour from '../pictures/PickColour.svelte';
	import { useDesk } from '../context.ts';

	interface Props {
		sourceId: string;
		key: Key | null;
		/** The picture being edited shows what is see-through instead of the scene. */
		showsOpacity: boolean;
		onchange: (key: Key | null, done?: boolean) => void;
	}
	let { sourceId, key, showsOpacity = $bindable(), onchange }: Props = $props();
	const session = useDesk();

	let picking = $state(false);
	const percent = (value: number) => `${Math.round(value * 100)} %`;

	function choose(by: string) {
		if (by === '') {
			onchange(null);
			showsOpacity = false;
		} else if (by === 'colour')
			onchange({ by: 'colour', colour: '#00b140', tolerance: 0.25, softness: 0.15, spill: 0.6 });
		else onchange({ by: 'light', low: 0.1, high: 0.25 });
	}
</script>

<details open={key !== null}>
	<summary class="cursor-pointer font-semibold">Make see-through</summary>
	<div class="mt-1 grid gap-1">
		<select
			class="field w-full"
			aria-label="What becomes see-through"
			value={key?.by ?? ''}
			onchange={({ currentTarget }) => choose(currentTarget.value)}
		>
			<option value="">Nothing</option>
			<option value="colour">One colour, such as a green cloth</option>
			<option value="light">The dark parts, or the light ones</option>
		</select>
		{#if key}
			<label class="flex items-center gap-2">
				<input type="checkbox" class="tick" bind:checked={showsOpacity} />
				Show it: white stays, black goes
			</label>
		{/if}
		{#if key?.by === 'colour'}
			<div class="flex items-center justify-between gap-2">
				<input
					type="color"
					class="h-7 w-12 bg-transparent"
					aria-label="Colour"
					value={key.colour}
					onchange={({ currentTarget }) => onchange({ ...key, colour: currentTarget.value })}
				/>
				<button class="act flex-1 py-1 text-xs" onclick={() => (picking = true)}>Pick it from the picture</button>
			</div>
			{#each [['tolerance', 'How much of it'], ['softness', 'Soft edge'], ['spill', 'Take its light off']] as const as [name, label] (name)}
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
			{#each [['low', 'Gone at'], ['high', 'There from']] as const as [name, label] (name)}
				<SliderField
					{label}
					min={0}
					max={1}
					value={key[name]}
					text="{percent(key[name])} light"
					onchange={(value) => onchange({ ...key, [name]: value }, false)}
				/>
			{/each}
		{/if}
	</div>
</details>

{#if key?.by === 'colour' && picking}
	<PickColour
		{sourceId}
		title="Press the colour that is to become see-through"
		onpick={(colour) => onchange({ ...key, colour: hexOf(colour) })}
		bind:open={picking}
	/>
{/if}
