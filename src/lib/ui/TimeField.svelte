<script lang="ts">
	/** A field for a time of day, in 24 hours as the run sheet has them; empty for none. */
	import { Helper, Input, Label } from 'flowbite-svelte';
	import { readClockTime } from '../../core/show/runsheet/clock-time.ts';
	import { ui as words } from '../words/index.ts';

	interface Props {
		label: string;
		/** `19:00`, `19:00:30` or empty. */
		value: string;
		onchange: (time: string) => void;
	}
	let { label, value, onchange }: Props = $props();
	let wrong = $state(false);

	function change(text: string) {
		const time = readClockTime(text);
		wrong = time === null;
		if (time !== null) onchange(time);
	}
</script>

<div class="grid gap-1">
	<Label class="flex items-center justify-between gap-2">
		{label}
		<Input
			size="sm"
			class="figures w-24!"
			color={wrong ? 'red' : undefined}
			placeholder="--:--"
			maxlength={8}
			autocomplete="off"
			aria-invalid={wrong}
			{value}
			onchange={({ currentTarget }) => change(currentTarget.value)}
		/>
	</Label>
	{#if wrong}<Helper class="text-right font-semibold text-lamp!" role="alert">{words.timeOfDay}</Helper>{/if}
</div>
