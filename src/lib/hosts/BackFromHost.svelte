<script lang="ts">
	/** Where somebody comes back to who has signed in at a host. */
	import type { SignInState } from '../../core/hosts/sign-in.ts';
	import Frame from '../access/Frame.svelte';
	import Warning from '../ui/Warning.svelte';
	import { hosts as words } from '../words/index.ts';

	/** @property host null where nobody had begun to sign in */
	let { host }: { host: { name: string; state: SignInState; problem: string } | null } = $props();
</script>

<Frame title={host && host.problem === '' ? words.backTitle(host.name) : words.backNothing}>
	{#if host === null}
		<p>{words.backUnknown}</p>
	{:else if host.problem !== ''}
		<Warning urgent>{host.problem}</Warning>
		<p>{words.backAgain}</p>
	{:else}
		<p>{words.backClose}</p>
	{/if}
</Frame>
