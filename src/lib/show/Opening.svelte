<script lang="ts">
	/** A page of an event before the server has answered, and for an event that is not there. */
	import { Spinner } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import { show as words } from '../words/index.ts';

	interface Props {
		/** What is opened, as in "Opening the desk". */
		what: string;
		/** True when there is no such event. */
		gone: boolean;
	}
	let { what, gone }: Props = $props();
</script>

<div class="grid h-screen place-content-center justify-items-center gap-4 bg-ink text-lg text-paper" role="status">
	{#if gone}
		<p>{words.thereNoSuchEvent}</p>
		<Button look="main" href="/">{words.allEvents}</Button>
	{:else}
		<Spinner color="primary" size="8" />
		<p>{words.opening(what)}</p>
	{/if}
</div>
