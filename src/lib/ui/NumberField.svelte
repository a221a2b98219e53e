<script lang="ts">
	/** A number with its unit; what is typed is brought within its range. */
	import { Input, Label } from 'flowbite-svelte';

	interface Props {
		label: string;
		value: number;
		min: number;
		max: number;
		step?: number;
		unit?: string;
		disabled?: boolean;
		onchange: (value: number) => void;
	}
	let { label, value, min, max, step = 1, unit = '', disabled = false, onchange }: Props = $props();

	function bringIntoRange(event: Event & { currentTarget: HTMLInputElement }) {
		const typed = event.currentTarget.valueAsNumber;
		const next = Number.isFinite(typed) ? Math.min(max, Math.max(min, typed)) : value;
		event.currentTarget.value = String(next);
		if (next !== value) onchange(next);
	}
</script>

<Label class="flex items-center justify-between gap-2 font-normal text-gray-600 dark:text-gray-300">
	<span>{label}</span>
	<span class="flex shrink-0 items-center gap-1">
		<Input
			type="number"
			size="sm"
			class="figures w-20!"
			{min}
			{max}
			{step}
			{disabled}
			{value}
			onchange={bringIntoRange}
		/>
		<span class="w-7 text-xs">{unit}</span>
	</span>
</Label>
