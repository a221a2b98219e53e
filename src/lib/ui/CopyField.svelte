<script lang="ts">
	/** A text that is typed or pasted somewhere else: shown, and copied by a press. */
	import { Input } from 'flowbite-svelte';
	import { ui as words } from '../words/index.ts';
	import Button from './Button.svelte';

	interface Props {
		/** Says what it is, for screen readers as well. */
		label: string;
		value: string;
	}
	let { label, value }: Props = $props();
	let copied = $state(false);
	let input = $state<HTMLInputElement>();

	async function copy() {
		copied = await navigator.clipboard.writeText(value).then(
			() => true,
			() => false,
		);
		// What may not be copied by a press is marked, to be copied by keys.
		if (!copied) input?.select();
	}
</script>

<div class="grid gap-1">
	<div class="flex items-end justify-between gap-1">
		<span class="text-sm">{label}</span>
		<Button size="xs" class="shrink-0" aria-label={words.copyThis(label)} onclick={() => void copy()}
			>{copied ? words.copied : words.copy}</Button
		>
	</div>
	<Input size="sm" readonly {value} aria-label={label} class="figures text-xs" bind:elementRef={input} />
</div>
