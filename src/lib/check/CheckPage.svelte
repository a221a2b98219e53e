<script lang="ts">
	/** The line check: what is ready, what is not, and the press that mends it. On paper it is a checklist. */
	import { format } from 'date-fns';
	import { onMount, untrack } from 'svelte';
	import { CHECK_GROUPS, type CheckEntry } from '../../core/line-check/entry.ts';
	import { tally } from '../../core/line-check/line-check.ts';
	import { plannedStart } from '../../core/show/runsheet/order.ts';
	import { provideSession } from '../show/context.ts';
	import Notices from '../show/Notices.svelte';
	import { useNow } from '../show/now.svelte.ts';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import Button from '../ui/Button.svelte';
	import EventNav from '../ui/EventNav.svelte';
	import { check as words, durationOf } from '../words/index.ts';
	import CheckLine from './CheckLine.svelte';
	import { Mending } from './mend.svelte.ts';

	/** So near the start nobody reads what is ready. */
	const LATE_S = 30 * 60;

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const mending = new Mending(session);
	onMount(() => {
		session.show.wantCheck();
		return () => session.close();
	});
	const show = $derived(session.show.state);
	const time = useNow(session.show);
	const entries = $derived(session.show.check);
	const counts = $derived(entries && tally(entries));
	const groups = $derived(
		CHECK_GROUPS.map((group) => ({ group, lines: (entries ?? []).filter((entry) => entry.group === group) })).filter(
			({ lines }) => lines.length > 0,
		),
	);
	const start = $derived(show && plannedStart(show));
	const leftS = $derived(start == null ? null : (start - time.now) / 1000);
	/** Whoever is late is shown what is left to do; null until somebody has chosen. */
	let chosen = $state<boolean | null>(null);
	const onlyOpen = $derived(chosen ?? (leftS !== null && leftS < LATE_S));
	const isDone = (lines: CheckEntry[]) => onlyOpen && lines.every(({ state }) => state === 'good');
	const when = $derived.by(() => {
		if (start == null || leftS === null) return words.noStart;
		const at = format(start - session.show.clockOffsetMs, 'EEEE d MMMM, HH:mm');
		return leftS > 0 ? `${words.starts(at)}, ${words.startsIn(durationOf(leftS))}` : words.began(at);
	});
	const isLookedAt = $derived(session.show.status === null || session.show.status.engine !== null);
</script>

{#if show}
	<div class="min-h-screen">
		<header class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-gray-300 px-4 py-2 print:hidden">
			<EventNav {eventId} here="check" title={show.setup.title} />
		</header>
		<main class="mx-auto grid max-w-4xl gap-6 p-4 sm:p-6">
			<div class="grid gap-2">
				<h1 class="text-3xl font-bold">{words.title}</h1>
				<p class="text-lg">{show.setup.title}. {when}.</p>
				{#if counts}
					<p class="flex flex-wrap gap-2 text-lg" role="status">
						{#if counts.wrong + counts.weak + counts.unseen === 0}
							<strong class="border-l-8 border-moss px-3">{words.ready}</strong>
						{:else}
							{#if counts.wrong > 0}<strong class="border-l-8 border-air px-3">{words.wrong(counts.wrong)}</strong>{/if}
							{#if counts.weak > 0}<strong class="border-l-8 border-lamp px-3">{words.weak(counts.weak)}</strong>{/if}
							{#if counts.unseen > 0}<span class="border-l-8 border-dashed border-gray-500 px-3"
									>{words.unseen(counts.unseen)}</span
								>{/if}
							<span class="px-3">{words.good(counts.good)}</span>
						{/if}
					</p>
				{/if}
				<div class="flex flex-wrap gap-2 print:hidden">
					<Button size="touch" aria-pressed={onlyOpen} onclick={() => (chosen = !onlyOpen)}
						>{onlyOpen ? words.showAll : words.onlyOpen}</Button
					>
					<Button size="touch" onclick={() => print()}>{words.print}</Button>
				</div>
				{#if !isLookedAt}
					<p class="flex flex-wrap items-center gap-3 border-l-8 border-lamp bg-white px-3 py-2 print:hidden">
						<span class="flex-1">{words.nobodyLooks}</span>
						<Button size="touch" look="main" href="/events/{eventId}/prepare">{words.opensPrepare}</Button>
					</p>
				{/if}
			</div>
			{#each groups as { group, lines } (group)}
				<section
					class="gap-1 break-inside-avoid print:grid {isDone(lines) ? 'hidden' : 'grid'}"
					aria-labelledby="check-{group}"
				>
					<h2 id="check-{group}" class="text-xl font-semibold">{words.groups[group]}</h2>
					<ul class="grid gap-1">
						{#each lines as entry (entry.key)}
							<CheckLine {entry} hidden={isDone([entry])} {eventId} {mending} offsetMs={session.show.clockOffsetMs} />
						{/each}
					</ul>
				</section>
			{/each}
		</main>
		<Notices />
	</div>
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}
