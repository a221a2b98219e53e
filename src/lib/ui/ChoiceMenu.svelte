<script lang="ts">
	/** A menu that does something with what is chosen, and then asks again. */
	import { Select } from 'flowbite-svelte';
	import type { Choice } from './choices.ts';

	interface Props {
		/** For screen readers. */
		label: string;
		/** What is seen while nothing is chosen. */
		title: string;
		choices: readonly Choice<string>[];
		onchoose: (value: string) => void;
		class?: string;
		/** Of the select itself. */
		look?: string;
	}
	let { label, title, choices, onchoose, class: extra = '', look = '' }: Props = $props();
</script>

<Select
	size="sm"
	placeholder=""
	class={extra}
	classes={{ select: look }}
	aria-label={label}
	onchange={({ currentTarget }) => {
		onchoose(currentTarget.value);
		currentTarget.value = '';
	}}
>
	<option value="" disabled selected>{title}</option>
	{#each choices as [value, name] (value)}<option {value}>{name}</option>{/each}
</Select>
