<script lang="ts">
	/** A password that is chosen, with what makes a good one. */
	import { access as words } from '../words/index.ts';
	import Field from './Field.svelte';

	let { value = $bindable() }: { value: string } = $props();
</script>

<Field label={words.newPassword} hint={words.passwordHint} bind:value type="password" autocomplete="new-password" />
