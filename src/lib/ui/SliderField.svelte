<script lang="ts">
	/** A slider with its value in words; a double click brings it back to `neutral`. */
	import { Label, Range } from 'flowbite-svelte';

	interface Props {
		label: string;
		value: number;
		min: number;
		max: number;
		step?: number;
		neutral?: number;
		text?: string;
		disabled?: boolean;
		onchange: (value: number) => void;
	}
	let { label, value, min, max, step = 0.01, neutral, text, disabled = false, onchange }: Props = $props();
	const shown = $derived(text ?? value.toFixed(2));
</script>

<Label class="font-normal text-gray-600 dark:text-gray-300">
	<span class="flex justify-between"><span>{label}</span><span class="figures">{shown}</span></span>
	<Range
		{min}
		{max}
		{step}
		{value}
		{disabled}
		aria-valuetext={shown}
		oninput={({ currentTarget }) => onchange(currentTarget.valueAsNumber)}
		ondblclick={() => neutral !== undefined && onchange(neutral)}
	/>
</Label>
