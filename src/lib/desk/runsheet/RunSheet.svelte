<script lang="ts">
	/** The evening's order: what is on, what comes next, and one button for it. */
	import { Input } from 'flowbite-svelte';
	import { PenOutline } from 'flowbite-svelte-icons';
	import { timeOfDay } from '../../../core/show/runsheet/clock-time.ts';
	import type { Cue } from '../../../core/show/runsheet/cue.ts';
	import { currentCue, following, isSheetLocked, nextCue } from '../../../core/show/runsheet/order.ts';
	import { plannedTimes, standing } from '../../../core/show/runsheet/plan.ts';
	import { cueOfScene, cueOfSource, typedCue } from '../../../core/show/runsheet/typed.ts';
	import ActionButton from '../../actions/ActionButton.svelte';
	import { newId } from '../../show/new-id.ts';
	import { useNow } from '../../show/now.svelte.ts';
	import Button from '../../ui/Button.svelte';
	import { sorted } from '../../ui/sorted.ts';
	import { undoKey } from '../../ui/undo-key.ts';
	import { clockOf, runsheet as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { takes, type Dragged } from '../pictures/drag.ts';
	import { doesOf, followOf } from './cue-words.ts';

	/** Further from the plan than this, it is another day. */
	const OTHER_DAY_MS = 4 * 3_600_000;

	interface Props {
		/** Where it is made and nothing is done of it yet. */
		plans?: boolean;
	}
	let { plans = false }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);
	const time = useNow(session.show);

	const zone = $derived(show.setup.timeZone);
	const current = $derived(currentCue(show));
	const next = $derived(nextCue(show));
	const plan = $derived(plannedTimes(show));
	const stands = $derived(standing(show, time.now, plan));
	const comes = $derived(following(show));
	const doneIds = $derived(new Set(show.live.progress.done.map(({ cueId }) => cueId)));
	const at = (ms: number | null | undefined) => (ms == null ? '' : timeOfDay(ms, zone).slice(0, 5));
	/** The sheet tried out on another day is neither over nor under. */
	const isThatDay = $derived(stands.overMs !== null && Math.abs(stands.overMs) < OTHER_DAY_MS);
	const span = (ms: number) => clockOf(Math.ceil(ms / 1000));

	const comesText = $derived.by(() => {
		if (!comes) return '';
		const left = span(Math.max(0, comes.at - time.now));
		if (comes.is === 'turn') return words.turnIn(left);
		return current?.endsBroadcast && session.isOnAir ? words.endsIn(left) : words.byItself(left);
	});

	let typed = $state('');
	function add(event: SubmitEvent) {
		event.preventDefault();
		const cue = typedCue(newId(), typed, show.setup);
		if (cue && session.changeSheet({ type: 'addCue', cue })) typed = '';
	}
	/** A scene or a clip that is dropped on the list becomes a line above the one it is dropped on. */
	function drop({ is, id }: Dragged, { target }: DragEvent) {
		const { setup } = show;
		const scene = is === 'scene' ? setup.scenes.find((each) => each.id === id) : null;
		const cue = scene ? cueOfScene(newId(), scene, setup) : cueOfSource(newId(), id, setup);
		if (!cue) return session.notify(words.notInSheet);
		const line = (target as Element).closest<HTMLElement>('[data-cue]');
		const place = setup.cues.findIndex((each) => each.id === line?.dataset.cue);
		session.changeSheet({ type: 'addCue', cue, ...(place >= 0 && { at: place }) });
	}
	const locked = $derived(isSheetLocked(show));

	const dragged = sorted(
		(from, to) => session.changeSheet({ type: 'moveCue', cueId: show.setup.cues[from]!.id, at: to }),
		{ draggable: 'li', handle: '[data-grip]', isLocked: () => locked },
	);

	/** The current line stays in sight. */
	function seen(line: HTMLElement, isCurrent: boolean) {
		if (isCurrent) line.scrollIntoView({ block: 'nearest' });
	}
	const lookOf = (cue: Cue) =>
		cue.id === current?.id
			? 'bg-gray-700 border-l-4 border-l-paper'
			: cue.id === next?.id
				? 'border-l-4 border-l-lamp border-double'
				: 'border-l-4 border-l-transparent';
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
	class="panel flex min-h-0 flex-1 flex-col"
	aria-label={words.runSheet}
	onkeydown={undoKey(() => session.undoSheet())}
>
	<h2 class="sr-only">{words.runSheet}</h2>
	{#if current && stands.overMs !== null && isThatDay}
		<p class="flex justify-between gap-2 px-3 pt-2 pb-1 text-sm">
			<span class="figures font-semibold {stands.overMs > 60_000 ? 'text-lamp' : ''}">
				{Math.abs(stands.overMs) < 1000
					? words.onTime
					: stands.overMs > 0
						? words.over(span(stands.overMs))
						: words.under(span(-stands.overMs))}
			</span>
			{#if stands.endsAt !== null}<span class="figures">{words.endsAbout(at(stands.endsAt))}</span>{/if}
		</p>
	{/if}
	<ol class="min-h-0 flex-1 overflow-y-auto" {@attach dragged} {...takes(['scene', 'source'], drop)}>
		{#each show.setup.cues as cue (cue.id)}
			{@const isCurrent = cue.id === current?.id}
			{@const planned = plan.get(cue.id)?.at}
			{@const expected = stands.expected.get(cue.id)}
			<li
				class="group grid grid-cols-[3.2rem_minmax(0,1fr)_auto] gap-x-2 border-t border-t-slate-rule py-1 pr-1 pl-1.5 {lookOf(
					cue,
				)}"
				data-cue={cue.id}
				aria-current={isCurrent ? 'step' : undefined}
				{@attach (line) => seen(line, isCurrent)}
			>
				{#if cue.heading}
					<h3 class="col-span-2 font-bold" data-grip>{cue.name}</h3>
				{:else}
					<span class="figures cursor-grab text-xs leading-5 text-gray-300" data-grip>
						{at(isThatDay || !current ? (expected ?? planned) : planned)}
					</span>
					<div class="min-w-0 {cue.skipped || (doneIds.has(cue.id) && !isCurrent) ? 'opacity-60' : ''}">
						<p class="flex items-baseline gap-1.5">
							{#if isCurrent}<span class="bg-paper px-1 text-xs font-bold text-ink">{words.now}</span>
							{:else if cue.id === next?.id}<span class="border border-lamp px-1 text-xs font-bold text-lamp"
									>{words.next}</span
								>{/if}
							<Button
								look="bare"
								class="block min-w-0 truncate font-semibold {cue.skipped ? 'line-through' : ''}"
								aria-label={words.choose(cue.name)}
								hint={words.chooseHint}
								disabled={cue.skipped}
								onpress={() => session.do({ type: 'chooseCue', cueId: cue.id === next?.id ? null : cue.id })}
								>{cue.name}</Button
							>
						</p>
						<p class="truncate text-xs text-gray-300" title="{doesOf(show, cue)}, {followOf(cue)}">
							{doesOf(show, cue)}, {followOf(cue)}
						</p>
						{#if isCurrent}
							<p class="figures text-sm" role="timer">
								{words.lasts(clockOf(stands.lastedMs / 1000))}{#if stands.overLimit}, <span class="font-bold text-lamp"
										>{words.overLimit(span(stands.lastedMs - cue.limitMs!))}</span
									>{:else if stands.leftMs !== null && stands.leftMs >= 0}, {words.left(
										span(stands.leftMs),
									)}{:else if stands.leftMs !== null}, <span class="text-lamp"
										>{words.beyond(span(-stands.leftMs))}</span
									>{/if}
							</p>
						{/if}
						{#if cue.note && (isCurrent || cue.id === next?.id)}<p class="text-xs text-lamp">{cue.note}</p>{/if}
					</div>
				{/if}
				<Button
					look="icon"
					class="self-start text-gray-300"
					aria-label={words.edit(cue.name)}
					onclick={() => session.sheet.editCue(cue.id)}><PenOutline class="size-4" /></Button
				>
			</li>
		{:else}
			<li class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">{words.empty}</li>
		{/each}
	</ol>
	<form class="flex gap-1 border-t border-slate-rule p-1.5" onsubmit={add}>
		{#if locked}
			<span class="flex-1 self-center text-sm text-gray-300">{words.locked}</span>
			<Button size="sm" hint={words.unlockHint} onclick={() => session.do({ type: 'unlockSheet', unlocked: true })}
				>{words.unlock}</Button
			>
		{:else}
			<Input
				size="sm"
				bind:value={typed}
				aria-label={words.addLine}
				title={words.addLineHint}
				placeholder={words.addLinePlace}
				maxlength={140}
			/>
			{#if session.sheetSteps.any}
				<Button size="sm" hint={words.undoHint} onclick={() => session.undoSheet()}>{words.undo}</Button>
			{/if}
			{#if session.isOnAir}
				<Button size="sm" onclick={() => session.do({ type: 'unlockSheet', unlocked: false })}>{words.lock}</Button>
			{/if}
		{/if}
	</form>
	{#if show.setup.cues.length > 0 && !plans}
		<div class="grid gap-1.5 border-t border-slate-rule p-1.5">
			<ActionButton action="go" look="main" size="lg" class="block min-h-14 w-full truncate" />
			<div class="flex items-center gap-1">
				<span class="figures min-w-0 flex-1 truncate text-sm" role="timer">{comesText}</span>
				<ActionButton action="hold-cue" size="sm" />
				<ActionButton action="go-back" size="sm" />
				{#if !next}
					<Button size="sm" hint={words.fromTopHint} onpress={() => session.do({ type: 'resetSheet' })}
						>{words.fromTop}</Button
					>
				{/if}
			</div>
		</div>
	{/if}
</section>
