<script lang="ts">
	import { Input, Modal, Select } from 'flowbite-svelte';
	import Button from '../../ui/Button.svelte';
	import Fold from '../../ui/Fold.svelte';
	import { planDelivery } from '../../../core/show/delivery/delivery.ts';
	import { durationOf, rateOf } from '../../ui/format.ts';
	import { useDesk } from '../context.ts';
	import { newId } from '../../show/new-id.ts';
	import Warning from '../../ui/Warning.svelte';

	interface Props {
		open: boolean;
	}
	let { open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const onAir = $derived(session.isOnAir);
	/** True while viewers see it: a rehearsal goes to nobody. */
	const sent = $derived(session.isSent && !session.isRehearsing);
	const plan = $derived(planDelivery(show));
	const ticked = $derived(show.setup.destinations.filter((destination) => destination.ticked));
	const names = $derived(ticked.map(({ name }) => name).join(' and '));
	const keyless = $derived(ticked.filter(({ hasKey }) => !hasKey).map(({ name }) => name));
	const silent = $derived(
		show.setup.channels.length === 0 || show.live.hushed || show.setup.channels.every(({ muted }) => muted),
	);

	const sizeText = ({ height, fps, kbps }: { height: number; fps: number; kbps: number }) =>
		`${height} lines at ${fps}/s, ${rateOf(kbps)}`;

	const recorded = $derived(show.setup.delivery.records);
	const roomS = $derived(session.show.status?.recording.roomS ?? null);
	/** The scene that viewers see last, for so many seconds. */
	let lastScene = $state('');
	let lastS = $state(10);
	let inMin = $state(30);

	function endLater(inS: number, sceneId: string | null) {
		if (session.do({ type: 'planEnd', inMs: 1000 * inS, sceneId })) open = false;
	}
	function go(rehearsal = false) {
		session.do(onAir ? { type: 'endBroadcast' } : { type: 'startBroadcast', broadcastId: newId(), rehearsal });
		open = false;
	}
</script>

<Modal
	bind:open
	size="sm"
	title={onAir ? `End the ${session.underWay}?` : ticked.length > 0 ? 'Go on air?' : 'Only record?'}
>
	{#if onAir}
		<p class="text-base text-gray-900 dark:text-paper">
			{#if session.isRehearsing}Nobody but you saw it.{/if}
			{#if sent}Viewers at {names} see the end in 10 to 60 seconds.{/if}
			{#if recorded}The recording is finished and kept.{/if}
		</p>
		<div class="mt-3 grid gap-2 text-gray-900 dark:text-paper">
			<div class="flex flex-wrap items-center gap-2">
				Show
				<Select
					size="sm"
					placeholder=""
					class="min-w-32 flex-1"
					aria-label="What viewers see last"
					bind:value={lastScene}
				>
					<option value="">choose a scene…</option>
					{#each show.setup.scenes as { id, name } (id)}<option value={id}>{name}</option>{/each}
				</Select>
				for
				<Input
					size="sm"
					class="figures w-16"
					type="number"
					min="1"
					max="3600"
					aria-label="For so many seconds"
					bind:value={lastS}
				/>
				s, then end
				<Button size="sm" disabled={lastScene === '' || !(lastS >= 1)} onclick={() => endLater(lastS, lastScene)}
					>Show and end</Button
				>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				End by itself in
				<Input
					size="sm"
					class="figures w-16"
					type="number"
					min="1"
					max="1440"
					aria-label="In so many minutes"
					bind:value={inMin}
				/>
				min
				<Button size="sm" disabled={!(inMin >= 1)} onclick={() => endLater(60 * inMin, null)}>Plan the end</Button>
			</div>
		</div>
	{:else}
		<div class="grid gap-3 text-base text-gray-900 dark:text-paper">
			{#if ticked.length > 0}
				<p>
					The program goes to <strong>{names}</strong>{recorded ? ' and is recorded' : ''}. Viewers see it 10 to 60
					seconds later; that is normal.
				</p>
			{:else}
				<p>
					No destination is ticked, so <strong>nobody will see it</strong>.{recorded ? ' The program is recorded.' : ''}
				</p>
			{/if}
			{#if ticked.length > 0 && session.canRehearse}
				<p class="text-sm">A rehearsal does all of this for real, but sends it where no viewer sees it.</p>
			{/if}
			{#if ticked.length > 0}
				<Fold title={`How it is sent: ${plan.renditions.map(sizeText).join(', ')}`}>
					<ul class="mt-1 grid gap-1 pl-4">
						{#each plan.reasons as reason, i (i)}<li class="list-disc">{reason}</li>{/each}
					</ul>
				</Fold>
			{/if}
			{#if !recorded}
				<Warning tone="air">It is NOT recorded: that is switched off under “How it is sent”.</Warning>
			{:else if roomS !== null}
				<p>The disk has room for {durationOf(roomS)} of recording.</p>
			{/if}
			{#each plan.warnings as warning, i (i)}<Warning>{warning}</Warning>{/each}
			{#if keyless.length > 0}<Warning>{keyless.join(' and ')} has no key yet and will refuse the stream.</Warning>{/if}
			{#if silent}<Warning>The stream has no sound now.</Warning>{/if}
			{#if show.live.program === null}<Warning
					>The program is black now. Take a scene first, or go on air with black.</Warning
				>{/if}
		</div>
	{/if}
	{#snippet footer()}
		<Button look="main" onclick={() => go()}
			>{onAir ? `End the ${session.underWay}` : ticked.length > 0 ? 'Go on air' : 'Only record'}</Button
		>
		<Button onclick={() => (open = false)}
			>{onAir
				? sent
					? 'Stay on air'
					: session.isRehearsing
						? 'Go on rehearsing'
						: 'Go on recording'
				: 'Not yet'}</Button
		>
		{#if !onAir && ticked.length > 0 && session.canRehearse}
			<Button class="ml-auto" onclick={() => go(true)}>Rehearse instead</Button>
		{/if}
	{/snippet}
</Modal>
