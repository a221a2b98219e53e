<script lang="ts">
	import { Checkbox, Input, Modal } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { batchOf } from '../../../core/show/command.ts';
	import { planDelivery } from '../../../core/show/delivery/delivery.ts';
	import { nextCue } from '../../../core/show/runsheet/order.ts';
	import { plannedTimes } from '../../../core/show/runsheet/plan.ts';
	import MachineVerdict from '../../machine/MachineVerdict.svelte';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { durationOf, rateOf } from '../../words/index.ts';
	import { runsheet as sheetWords } from '../../words/index.ts';
	import { delivery as words, deliveryReason, deliveryWarning } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	interface Props {
		open: boolean;
	}
	let { open = $bindable() }: Props = $props();
	/** So far from its planned beginning it is that evening. */
	const EVENING_MS = 4 * 3_600_000;

	const session = useDesk();
	const show = $derived(session.state);

	const onAir = $derived(session.isOnAir);
	/** True while viewers see it: a rehearsal goes to nobody. */
	const sent = $derived(session.isSent && !session.isRehearsing);
	const plan = $derived(planDelivery(show));
	const ticked = $derived(show.setup.destinations.filter((destination) => destination.ticked));
	const names = $derived(ticked.map(({ name }) => name).join(words.and));
	const keyless = $derived(ticked.filter(({ hasKey }) => !hasKey).map(({ name }) => name));
	const silent = $derived(
		show.setup.channels.length === 0 || show.live.hushed || show.setup.channels.every(({ muted }) => muted),
	);

	const sizeText = ({ height, fps, kbps }: { height: number; fps: number; kbps: number }) =>
		words.sizeAndRate(height, fps, rateOf(kbps));

	const recorded = $derived(show.setup.delivery.records);
	const roomS = $derived(session.show.status?.recording.roomS ?? null);
	/** The scene that viewers see last, for so many seconds. */
	let lastScene = $state('');
	let lastS = $state(10);
	let inMin = $state(30);

	function endLater(inS: number, sceneId: string | null) {
		if (session.do({ type: 'planEnd', inMs: 1000 * inS, sceneId })) open = false;
	}
	/** The first line of the run sheet, while none has been done. */
	const first = $derived(show.live.progress.current === null ? nextCue(show) : null);
	/** Offered on the evening it is planned for; on another day somebody tries something out. */
	const isThatEvening = $derived.by(() => {
		const at = first && plannedTimes(show).get(first.id)?.at;
		return at != null && Math.abs(at - session.show.now) < EVENING_MS;
	});
	let begins = $state(false);
	$effect(() => {
		if (open) begins = untrack(() => isThatEvening);
	});

	function go(rehearsal = false) {
		// The sheet first, so that viewers see nothing of what was tried out before.
		const begin = begins && first ? [{ type: 'go' as const }] : [];
		session.do(
			onAir
				? { type: 'endBroadcast' }
				: batchOf([...begin, { type: 'startBroadcast', broadcastId: newId(), rehearsal }]),
		);
		open = false;
	}
</script>

<Modal
	bind:open
	size="sm"
	title={onAir
		? words.endQuestion[session.underWay]
		: ticked.length > 0
			? words.goOnAirQuestion
			: words.onlyRecordQuestion}
>
	{#if onAir}
		<p class="text-base text-gray-900 dark:text-paper">
			{#if session.isRehearsing}{words.nobodyButYouSaw}{/if}
			{#if sent}{words.viewersAtSeeEndIn(names)}{/if}
			{#if recorded}{words.recordingFinishedKept}{/if}
		</p>
		<div class="mt-3 grid gap-2 text-gray-900 dark:text-paper">
			<div class="flex flex-wrap items-center gap-2">
				{words.show}
				<ChoiceField
					class="min-w-32 flex-1"
					label={words.whatViewersSeeLast}
					value={lastScene}
					choices={[['', words.chooseScene], ...choicesAmong(show.setup.scenes)]}
					onchange={(sceneId) => (lastScene = sceneId)}
				/>
				{words.forIt}
				<Input
					size="sm"
					class="figures w-16!"
					type="number"
					min="1"
					max="3600"
					aria-label={words.manySeconds}
					bind:value={lastS}
				/>
				{words.sThenEnd}
				<Button size="sm" disabled={lastScene === '' || !(lastS >= 1)} onclick={() => endLater(lastS, lastScene)}
					>{words.showEnd}</Button
				>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				{words.endByItselfIn}
				<Input
					size="sm"
					class="figures w-16!"
					type="number"
					min="1"
					max="1440"
					aria-label={words.inManyMinutes}
					bind:value={inMin}
				/>
				{words.min}
				<Button size="sm" disabled={!(inMin >= 1)} onclick={() => endLater(60 * inMin, null)}>{words.planEnd}</Button>
			</div>
		</div>
	{:else}
		<div class="grid gap-3 text-base text-gray-900 dark:text-paper">
			{#if first}
				<Checkbox bind:checked={begins}>{sheetWords.startSheet(first.name)}</Checkbox>
			{/if}
			{#if ticked.length > 0}
				<p>
					{words.programGoes} <strong>{names}</strong>{recorded ? words.andIsRecorded : '.'}
					{words.viewersSeeItLater}
				</p>
			{:else}
				<p>
					{words.noDestinationTicked} <strong>{words.nobodyWillSee}</strong>.{recorded ? words.programRecorded : ''}
				</p>
			{/if}
			{#if ticked.length > 0 && session.canRehearse}
				<p class="text-sm">{words.rehearsalDoesAllRealBut}</p>
			{/if}
			{#if ticked.length > 0}
				<Fold title={words.howSentIs(plan.renditions.map(sizeText).join(', '))}>
					<ul class="mt-1 grid gap-1 pl-4">
						{#each plan.reasons as reason, i (i)}<li class="list-disc">{deliveryReason(reason)}</li>{/each}
					</ul>
				</Fold>
			{/if}
			{#if !recorded}
				<Warning tone="air">{words.notRecordedSwitchedOffUnder}</Warning>
			{:else if roomS !== null}
				<p>{words.diskRoomRecording(durationOf(roomS))}</p>
			{/if}
			{#each plan.warnings as warning, i (i)}<Warning>{deliveryWarning(warning)}</Warning>{/each}
			<MachineVerdict onlyWarnings />
			{#if keyless.length > 0}<Warning>{words.noKeyYetWillRefuse(keyless.join(words.and))}</Warning>{/if}
			{#if silent}<Warning>{words.streamNoSoundNow}</Warning>{/if}
			{#if show.live.program === null}<Warning>{words.programBlackNowTakeScene}</Warning>{/if}
		</div>
	{/if}
	{#snippet footer()}
		<Button look="main" onclick={() => go()}
			>{onAir ? words.end[session.underWay] : ticked.length > 0 ? words.goOnAir : words.onlyRecord}</Button
		>
		<Button onclick={() => (open = false)}
			>{onAir
				? sent
					? words.stayOnAir
					: session.isRehearsing
						? words.goOnRehearsing
						: words.goOnRecording
				: words.notYet}</Button
		>
		{#if !onAir && ticked.length > 0 && session.canRehearse}
			<Button class="ml-auto" onclick={() => go(true)}>{words.rehearseInstead}</Button>
		{/if}
	{/snippet}
</Modal>
