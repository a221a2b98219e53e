<script lang="ts">
	/** A number with its unit; what is typed is brought within its range. */
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

	function take(event: Event & { currentTarget: HTMLInputElement }) {
		const typed = event.currentTarget.valueAsNumber;
		const next = Number.isFinite(typed) ? Math.min(max, Math.max(min, typed)) : value;
		event.currentTarget.value = String(next);
		if (next !== value) onchange(next);
	}
</script>

<label class="flex items-center justify-between gap-2">
	<span class="text-gray-300">{label}</span>
	<span class="flex items-center gap-1">
		<input type="number" class="figures field w-20" {min} {max} {step} {disabled} {value} onchange={take} />
		<span class="w-7 text-xs text-gray-300">{unit}</span>
	</span>
</label>
