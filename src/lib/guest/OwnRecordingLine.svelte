<script lang="ts">
	/** How a guest's own recording goes, as long as there is something to say. */
	import { Progressbar } from 'flowbite-svelte';
	import { useNow } from '../show/now.svelte.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { clockOf, guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';

	const session = useGuest();
	const { own } = session;
	const clock = useNow({
		get now() {
			return Date.now();
		},
	});
</script>

{#if own}
	{@const { sending, unsent } = own}
	{#if own.isRecording}
		<p class="text-sm">{words.own.is(clockOf(Math.max(0, Math.floor((clock.now - own.since) / 1000))))}</p>
	{:else if own.problem}
		<Warning>{words.own[own.problem]}</Warning>
	{:else if session.wantsOwn && session.hasKnocked && !sending && !own.isSent && !unsent}
		<p class="text-sm">{words.own.willBe}</p>
	{/if}
	{#if sending}
		<div class="grid gap-1">
			<p role="status">
				{sending.is === 'waiting' ? words.own.waits : words.own.sending(Math.floor(100 * sending.part))}
			</p>
			<Progressbar progress={100 * sending.part} size="h-2" aria-label={words.own.progress} />
		</div>
	{:else if unsent}
		<Warning>{words.own.unsent(unsent)}</Warning>
		<div class="flex flex-wrap gap-2">
			<Button size="touch" onclick={() => own.tryAgain()}>{words.tryAgain}</Button>
			<Button size="touch" onclick={() => void own.save()}>{words.own.save}</Button>
		</div>
	{:else if own.isSent && own.waiting === 0 && !own.isRecording}
		<p role="status">{words.own.sent}</p>
	{/if}
{/if}
