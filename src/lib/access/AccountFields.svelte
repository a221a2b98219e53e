<script lang="ts">
	/** What an account is made of. */
	import { access as words } from '../words/index.ts';
	import Field from './Field.svelte';
	import NewPassword from './NewPassword.svelte';

	interface Props {
		account: { name: string; login: string; password: string };
	}
	let { account = $bindable() }: Props = $props();
</script>

<Field label={words.yourName} bind:value={account.name} autocomplete="name" />
<Field label={words.login} bind:value={account.login} autocomplete="username" />
<NewPassword bind:value={account.password} />
