<script lang="ts">
	/** Opens a link for one event; its secret is in the part of the address that no server sees. */
	import { onMount } from 'svelte';
	import { askServer } from '../ui/ask.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words } from '../words/index.ts';
	import Frame from './Frame.svelte';
	import { enter, pageOf } from './go.ts';

	let problem = $state('');
	onMount(async () => {
		const secret = location.hash.slice(1);
		// Nobody reads it from the screen or from the list of visited pages.
		history.replaceState(null, '', location.pathname);
		const opened = await askServer<{ role: string; eventId: string }>('/api/access/link', 'POST', { secret });
		if ('problem' in opened) problem = opened.problem;
		else enter(pageOf(opened.answer.role, opened.answer.eventId));
	});
</script>

<Frame title={problem ? words.linkFailed : words.linkTitle}>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
</Frame>
