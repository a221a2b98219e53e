<script lang="ts" generics="T">
	/** A form whose answer comes from the server, with its problem below it. */
	import { onMount, type Snippet } from 'svelte';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';

	interface Props {
		to: string;
		method?: string;
		/** What is sent. */
		body: () => unknown;
		submit: string;
		ondone: (answer: T) => void | Promise<void>;
		/** Told the code of a refusal; true when the page deals with it, and no problem is shown. */
		onrefused?: (code: string | undefined) => boolean;
		children: Snippet;
	}
	let { to, method = 'POST', body, submit, ondone, onrefused, children }: Props = $props();

	let problem = $state('');
	/** Until the page is awake a press would be the browser's own, which leads nowhere. */
	let isBusy = $state(true);
	onMount(() => void (isBusy = false));
	async function send(event: SubmitEvent) {
		event.preventDefault();
		isBusy = true;
		const result = await askServer<T>(to, method, body());
		if ('answer' in result) {
			problem = '';
			await ondone(result.answer);
		} else problem = onrefused?.(result.code) ? '' : result.problem;
		isBusy = false;
	}
</script>

<form class="grid gap-4" onsubmit={send}>
	{@render children()}
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	<Button look="main" size="touch" type="submit" disabled={isBusy}>{submit}</Button>
</form>
