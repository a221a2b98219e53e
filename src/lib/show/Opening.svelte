<script lang="ts">
	/** A page of an event before the server has answered, and for an event that is not there. */
	import { Spinner } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';

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
		<p>There is no such event.</p>
		<Button look="main" href="/">All events</Button>
	{:else}
		<Spinner color="primary" size="8" />
		<p>Opening {what}…</p>
	{/if}
</div>
