<script lang="ts">
	import { Modal } from 'flowbite-svelte';
	import { planDelivery } from '../../core/show/delivery.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import { rateOf } from '../ui/format.ts';
	import { newId, type DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
		open: boolean;
	}
	let { session, show, open = $bindable() }: Props = $props();

	const onAir = $derived(session.onAir);
	const plan = $derived(planDelivery(show));
	const ticked = $derived(show.destinations.filter((destination) => destination.ticked));
	const names = $derived(ticked.map(({ name }) => name).join(' and '));
	const keyless = $derived(ticked.filter(({ hasKey }) => !hasKey).map(({ name }) => name));
	const silent = $derived(show.channels.length === 0 || show.hushed || show.channels.every(({ muted }) => muted));

	const sizeText = ({ height, fps, kbps }: { height: number; fps: number; kbps: number }) =>
		`${height} lines at ${fps}/s, ${rateOf(kbps)}`;

	function go() {
		session.do(onAir ? { type: 'endBroadcast' } : { type: 'startBroadcast', broadcastId: newId() });
		open = false;
	}
</script>

<Modal bind:open size="sm" title={onAir ? 'End the broadcast?' : 'Go on air?'}>
	{#if onAir}
		<p class="text-base text-gray-900 dark:text-paper">
			Viewers at {names || 'no destination'} see the end in 10 to 60 seconds. The recording is finished and kept.
		</p>
	{:else}
		<div class="grid gap-3 text-base text-gray-900 dark:text-paper">
			{#if ticked.length > 0}
				<p>
					The program goes to <strong>{names}</strong> and is recorded. Viewers see it 10 to 60 seconds later; that is normal.
				</p>
			{:else}
				<p>No destination is ticked, so <strong>nobody will see it</strong>. The program is recorded.</p>
			{/if}
			{#if ticked.length > 0}
				<details class="text-sm">
					<summary class="cursor-pointer">How it is sent: {plan.renditions.map(sizeText).join(', ')}</summary>
					<ul class="mt-1 grid gap-1 pl-4">
						{#each plan.reasons as reason, i (i)}<li class="list-disc">{reason}</li>{/each}
					</ul>
				</details>
			{/if}
			{#each plan.warnings as warning, i (i)}<p class="border-l-4 border-lamp pl-3">{warning}</p>{/each}
			{#if keyless.length > 0}<p class="border-l-4 border-lamp pl-3">
					{keyless.join(' and ')} has no key yet and will refuse the stream.
				</p>{/if}
			{#if silent}<p class="border-l-4 border-lamp pl-3">The stream has no sound now.</p>{/if}
			{#if show.program === null}<p class="border-l-4 border-lamp pl-3">
					The program is black now. Take a scene first, or go on air with black.
				</p>{/if}
		</div>
	{/if}
	{#snippet footer()}
		<button class="act-main" onclick={go}>{onAir ? 'End the broadcast' : 'Go on air'}</button>
		<button class="act" onclick={() => (open = false)}>{onAir ? 'Stay on air' : 'Not yet'}</button>
	{/snippet}
</Modal>
