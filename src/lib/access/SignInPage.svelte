<script lang="ts">
	/** Signs somebody in, and takes them where they wanted to go. */
	import { onMount } from 'svelte';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { access as words } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import Frame from './Frame.svelte';
	import { enter, ownPage } from './go.ts';
	import { canHavePasskeys, signInWithPasskey } from './passkey.ts';

	let { to }: { to: string | null } = $props();

	let login = $state('');
	let password = $state('');
	let code = $state('');
	let needsCode = $state(false);
	let hasPasskeys = $state(false);
	let problem = $state('');
	onMount(() => (hasPasskeys = canHavePasskeys()));

	const goOn = () => enter(ownPage(to));
	async function usePasskey() {
		problem = await signInWithPasskey();
		if (!problem) goOn();
	}
	function refused(refusal: string | undefined): boolean {
		needsCode ||= refusal === 'needsCode';
		return refusal === 'needsCode';
	}
</script>

<Frame title={words.signIn}>
	<p class="text-gray-600">{words.signInHint}</p>
	<AskForm
		to="/api/access/sign-in"
		body={() => ({ login, password, code })}
		submit={words.signIn}
		ondone={goOn}
		onrefused={refused}
	>
		<Field label={words.login} bind:value={login} autocomplete="username webauthn" />
		<Field label={words.password} bind:value={password} type="password" autocomplete="current-password" />
		{#if needsCode}
			<Field label={words.code} bind:value={code} autocomplete="one-time-code" inputmode="numeric" />
		{/if}
	</AskForm>
	{#if hasPasskeys}
		<Button size="touch" onclick={() => void usePasskey()}>{words.withPasskey}</Button>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{/if}
	<p class="text-sm text-gray-600">{words.noAccount}</p>
	<a class="inline-block min-h-6 underline" href="/pair">{words.pairInstead}</a>
</Frame>
