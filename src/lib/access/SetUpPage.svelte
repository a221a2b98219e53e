<script lang="ts">
	/** Makes the owner's account, once. */
	import Button from '../ui/Button.svelte';
	import { access as words } from '../words/index.ts';
	import AccountFields from './AccountFields.svelte';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import Frame from './Frame.svelte';
	import { enter } from './go.ts';

	let { isOpen }: { isOpen: boolean } = $props();

	let code = $state('');
	let account = $state({ name: '', login: '', password: '' });
</script>

<Frame title={words.setUp}>
	{#if isOpen}
		<p class="text-gray-600">{words.setUpHint}</p>
		<AskForm
			to="/api/access/set-up"
			body={() => ({ code, ...account })}
			submit={words.makeOwner}
			ondone={() => enter('/me')}
		>
			<Field label={words.setUpCode} bind:value={code} autocomplete="off" class="uppercase" />
			<AccountFields bind:account />
		</AskForm>
	{:else}
		<p>{words.setUpDone}</p>
		<Button look="main" size="touch" href="/sign-in">{words.signIn}</Button>
	{/if}
</Frame>
