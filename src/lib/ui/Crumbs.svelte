<script lang="ts">
	/** Where one is among the pages of an event, and the way back. */
	import { Breadcrumb, BreadcrumbItem } from 'flowbite-svelte';
	import { ui as words } from '../words/index.ts';

	interface Props {
		/** From the outside in; the last one is this page. */
		pages: readonly { name: string; href?: string }[];
	}
	let { pages }: Props = $props();
</script>

<Breadcrumb>
	<BreadcrumbItem home href="/">{words.allEvents}</BreadcrumbItem>
	{#each pages as { name, href } (name)}<BreadcrumbItem {href}>{name}</BreadcrumbItem>{/each}
</Breadcrumb>
