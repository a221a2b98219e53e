<script lang="ts">
	/** Something that is folded away behind its title until it is wanted. */
	import { Accordion, AccordionItem } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';

	interface Props {
		title: string;
		open?: boolean;
		children: Snippet;
	}
	let { title, open = $bindable(false), children }: Props = $props();
</script>

<Accordion flush multiple>
	<AccordionItem bind:open transitionType="none" headingTag="h4">
		{#snippet header()}{title}{/snippet}
		{@render children()}
	</AccordionItem>
</Accordion>
