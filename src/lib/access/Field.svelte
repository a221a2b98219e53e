<script lang="ts">
	/** A line to be typed, large enough for a finger. */
	import { Helper, Input, Label } from 'flowbite-svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	interface Props {
		label: string;
		hint?: string;
		value: string;
		type?: 'text' | 'password';
		autocomplete: HTMLInputAttributes['autocomplete'];
		inputmode?: HTMLInputAttributes['inputmode'];
		class?: string;
	}
	let { label, hint = '', value = $bindable(), class: extra = '', ...rest }: Props = $props();
</script>

<Label>
	{label}
	<Input
		bind:value
		class="mt-1 min-h-11 text-base {extra}"
		required
		autocapitalize="off"
		spellcheck="false"
		{...rest}
	/>
	{#if hint}<Helper class="mt-1">{hint}</Helper>{/if}
</Label>
