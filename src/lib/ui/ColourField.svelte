<script lang="ts">
	/** A field for a colour, `#rrggbb`. */
	import { Input, Label } from 'flowbite-svelte';

	interface Props {
		label: string;
		value: string;
		onchange: (colour: string) => void;
	}
	let { label, value, onchange }: Props = $props();
</script>

<Label class="flex items-center gap-2">
	{label}
	<Input
		size="sm"
		type="color"
		class="h-8 w-12! shrink-0 p-1"
		{value}
		onchange={({ currentTarget }) => onchange(currentTarget.value)}
	/>
</Label>
