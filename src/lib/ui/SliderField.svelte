<script lang="ts">
	/** A slider with its value in words; a double click brings it back to `neutral`. */
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

<label class="block">
	<span class="flex justify-between text-gray-300"><span>{label}</span><span class="figures">{shown}</span></span>
	<input
		type="range"
		class="w-full accent-lamp disabled:opacity-40"
		{min}
		{max}
		{step}
		{value}
		{disabled}
		aria-valuetext={shown}
		oninput={({ currentTarget }) => onchange(currentTarget.valueAsNumber)}
		ondblclick={() => neutral !== undefined && onchange(neutral)}
	/>
</label>
