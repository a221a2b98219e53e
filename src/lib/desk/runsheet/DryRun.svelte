<script lang="ts">
	/** The whole run sheet without going on air: what would go wrong, and each step of it at any speed. */
	import { Modal, Range } from 'flowbite-svelte';
	import { isClip } from '../../../core/show/clips/source.ts';
	import { timeOfDay } from '../../../core/show/runsheet/clock-time.ts';
	import { dryRun, type DryStep } from '../../../core/show/runsheet/dry-run.ts';
	import { cueOf } from '../../../core/show/runsheet/order.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import type { Choice } from '../../ui/choices.ts';
	import Warning from '../../ui/Warning.svelte';
	import { runsheet as words } from '../../words/index.ts';
	import { conflictWords } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import Monitor from '../pictures/Monitor.svelte';

	interface Props {
		open: boolean;
	}
	let { open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	/** Files that the server has no longer; nothing is called missing before that is known. */
	let gone = $state.raw<readonly string[]>([]);
	const files = $derived([
		...new Set(show.setup.sources.filter(isClip).flatMap(({ items }) => items.map(({ mediaId }) => mediaId))),
	]);
	$effect(() => {
		const isGone = async (id: string) =>
			(await fetch(`/api/media/${id}/file`, { method: 'HEAD' }).catch(() => null))?.status === 404;
		void Promise.all(files.map(isGone)).then((are) => (gone = files.filter((_, i) => are[i])));
	});
	const run = $derived(dryRun(show, (id) => !gone.includes(id)));
	const { steps, conflicts } = $derived(run);

	/** The moment of the evening that is looked at, milliseconds since 1970; its beginning when null. */
	let moment = $state<number | null>(null);
	const startsAt = $derived(steps[0]?.at ?? 0);
	const at = $derived(Math.min(run.endsAt, Math.max(startsAt, moment ?? startsAt)));
	const place = $derived(
		Math.max(
			0,
			steps.findLastIndex((step) => step.at <= at),
		),
	);
	const step = $derived<DryStep | undefined>(steps[place]);
	const cue = $derived(step ? cueOf(show, step.cueId) : null);
	const time = (ms: number) => timeOfDay(ms, show.setup.timeZone);
	const nameIn = (list: readonly { id: string; name: string }[], id: string | null) =>
		list.find((each) => each.id === id)?.name;
	const names = (list: readonly { id: string; name: string }[], ids: readonly string[]) =>
		ids.map((id) => nameIn(list, id) ?? '').join(', ');
	const HOW = { go: words.byPress, itself: words.comesByItself, turn: words.byTurn };

	const SPEEDS: Choice<number>[] = [
		[1, words.asInLife],
		[10, words.times(10)],
		[60, words.times(60)],
		[300, words.times(300)],
	];
	let speed = $state(60);
	let playing = $state(false);
	const TICK_MS = 50;
	$effect(() => {
		if (!playing) return;
		const timer = setInterval(() => {
			const next = at + TICK_MS * speed;
			if (next >= run.endsAt) playing = false;
			moment = Math.min(next, run.endsAt);
		}, TICK_MS);
		return () => clearInterval(timer);
	});
	function play() {
		if (!playing && at >= run.endsAt) moment = startsAt;
		playing = !playing;
	}
	function goTo(index: number) {
		playing = false;
		moment = steps[index]!.at;
	}
	function change(cueId: string) {
		session.sheet.editCue(cueId);
		open = false;
	}
</script>

<Modal bind:open size="lg" title={words.dryRun}>
	<div class="grid gap-4 text-paper">
		{#if steps.length === 0}
			<p>{words.dryEmpty}</p>
		{:else if step}
			<section aria-label={words.conflicts(conflicts.length)}>
				{#if conflicts.length === 0}
					<p class="font-semibold">{words.noConflict}</p>
				{:else}
					<h3 class="mb-1 font-semibold">{words.conflicts(conflicts.length)}</h3>
					<ul class="grid max-h-40 gap-1 overflow-y-auto">
						{#each conflicts as conflict, i (i)}
							{@const { cueId } = conflict}
							{@const name = cueId === null ? words.wholeEvening : (cueOf(show, cueId)?.name ?? '')}
							<li class="flex items-center gap-2">
								<Warning class="min-w-0 flex-1 text-sm"><strong>{name}:</strong> {conflictWords(conflict)}</Warning>
								{#if cueId !== null}<Button size="sm" onclick={() => change(cueId)}>{words.show}</Button>{/if}
							</li>
						{/each}
					</ul>
				{/if}
			</section>
			<section class="grid grid-cols-[20rem_minmax(0,1fr)] gap-4" aria-label={words.stepOf(place + 1, steps.length)}>
				<Monitor
					subject={step.sceneId === null ? { bus: 'next' } : { sceneId: step.sceneId }}
					mark="none"
					label={nameIn(show.setup.scenes, step.sceneId) ?? words.black}
					empty={step.sceneId === null}
					class="w-full"
				/>
				<dl class="grid grid-cols-[auto_minmax(0,1fr)] content-start gap-x-3 gap-y-1">
					<dt class="sr-only">{words.line}</dt>
					<dd class="col-span-2 flex items-baseline gap-3">
						<span class="figures text-3xl font-semibold">{time(at)}</span>
						<span class="text-gray-300">{words.stepOf(place + 1, steps.length)}</span>
					</dd>
					<dd class="col-span-2 text-xl font-bold">{cue?.name}</dd>
					<dd class="col-span-2 text-sm text-gray-300">{time(step.at)}, {HOW[step.by]}</dd>
					<dt class="text-gray-300">{words.viewersSee}</dt>
					<dd>{nameIn(show.setup.scenes, step.sceneId) ?? words.black}</dd>
					{#if step.overlayIds.length > 0}
						<dt class="text-gray-300">{words.above}</dt>
						<dd>{names(show.setup.overlays, step.overlayIds)}</dd>
					{/if}
					{#if step.clipIds.length > 0}
						<dt class="text-gray-300">{words.playing}</dt>
						<dd>{names(show.setup.sources, step.clipIds)}</dd>
					{/if}
					{#if cue?.note}<dd class="col-span-2 text-lamp">{cue.note}</dd>{/if}
				</dl>
			</section>
			<Range
				min={startsAt}
				max={run.endsAt}
				step="1000"
				value={at}
				aria-label={words.placeInRun}
				aria-valuetext={time(at)}
				oninput={({ currentTarget }) => (moment = currentTarget.valueAsNumber)}
			/>
			<div class="flex flex-wrap items-center gap-2">
				<Button look="main" class="w-24" onclick={play}>{playing ? words.pause : words.play}</Button>
				<Button disabled={place === 0} onclick={() => goTo(place - 1)}>{words.stepBack}</Button>
				<Button disabled={place === steps.length - 1} onclick={() => goTo(place + 1)}>{words.stepOn}</Button>
				<ChoiceField
					class="w-48"
					label={words.speed}
					value={speed}
					choices={SPEEDS}
					onchange={(factor) => (speed = factor)}
				/>
				<span class="ml-auto text-gray-300">{words.dryEnd(time(run.endsAt))}</span>
			</div>
		{/if}
	</div>
</Modal>
