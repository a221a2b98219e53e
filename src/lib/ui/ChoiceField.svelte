<script lang="ts" generics="T extends string | number | null">
	/** One value of a few, by their names. */
	import { Select } from 'flowbite-svelte';
	import type { Choice } from './choices.ts';

	interface Props {
		/** Says what is chosen, for screen readers; not needed inside a label. */
		label?: string;
		value: T;
		choices: readonly Choice<T>[];
		onchange: (value: T) => void;
		disabled?: boolean;
		class?: string;
		/** Of the select itself. */
		look?: string;
	}
	let { label, value, choices, onchange, disabled = false, class: extra = '', look = '' }: Props = $props();

	/** A choice as the form element has it. */
	const keyOf = (choice: T) => String(choice ?? '');
	function choose(key: string) {
		const chosen = choices.find(([each]) => keyOf(each) === key);
		if (chosen) onchange(chosen[0]);
	}
</script>

<Select
	size="sm"
	placeholder=""
	class={extra}
	classes={{ select: look }}
	aria-label={label}
	{disabled}
	value={keyOf(value)}
	onchange={({ currentTarget }) => choose(currentTarget.value)}
>
	{#each choices as [each, name, isPossible = true] (each)}
		<option value={keyOf(each)} disabled={!isPossible}>{name}</option>
	{/each}
</Select>
