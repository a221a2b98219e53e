<script lang="ts">
	/** Makes the owner's account, once. */
	import Button from '../ui/Button.svelte';
	import { access as words } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import Frame from './Frame.svelte';
	import { enter } from './go.ts';

	let { isOpen }: { isOpen: boolean } = $props();

	let code = $state('');
	let name = $state('');
	let login = $state('');
	let password = $state('');
</script>

<Frame title={words.setUp}>
	{#if isOpen}
		<p class="text-gray-600">{words.setUpHint}</p>
		<AskForm
			to="/api/access/set-up"
			body={() => ({ code, name, login, password })}
			submit={words.makeOwner}
			ondone={() => enter('/me')}
		>
			<Field label={words.setUpCode} bind:value={code} autocomplete="off" class="uppercase" />
			<Field label={words.yourName} bind:value={name} autocomplete="name" />
			<Field label={words.login} bind:value={login} autocomplete="username" />
			<Field
				label={words.newPassword}
				hint={words.passwordHint}
				bind:value={password}
				type="password"
				autocomplete="new-password"
			/>
		</AskForm>
	{:else}
		<p>{words.setUpDone}</p>
		<Button look="main" size="touch" href="/sign-in">{words.signIn}</Button>
	{/if}
</Frame>
