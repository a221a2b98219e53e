<script lang="ts">
	/** Whether a guest wants to be recorded by their own browser, where it can. */
	import { Checkbox } from 'flowbite-svelte';
	import { guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';

	const session = useGuest();
</script>

{#if session.own?.isPossible}
	<div>
		<div class="flex min-h-11 items-center">
			<Checkbox
				checked={session.wantsOwn}
				onchange={({ currentTarget }) => session.setWantsOwn((currentTarget as HTMLInputElement).checked)}
				>{words.own.consent}</Checkbox
			>
		</div>
		<p class="text-sm">{words.own.consentHint}</p>
	</div>
{/if}
