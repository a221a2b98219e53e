<script lang="ts">
	/** The run sheet to look at: for speakers, musicians and crew on a phone, as a timer on a stage, and on paper. */
	import { onMount, untrack } from 'svelte';
	import { timeOfDay } from '../../core/show/runsheet/clock-time.ts';
	import type { Cue } from '../../core/show/runsheet/cue.ts';
	import { currentCue, following, isDoable, nextCue } from '../../core/show/runsheet/order.ts';
	import { plannedTimes, standing } from '../../core/show/runsheet/plan.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import { readerName } from '../crew/reader.ts';
	import { provideSession } from '../show/context.ts';
	import { useNow } from '../show/now.svelte.ts';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import Button from '../ui/Button.svelte';
	import EventNav from '../ui/EventNav.svelte';
	import { clockOf, crew as crewWords, sheet as words } from '../words/index.ts';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	onMount(() => () => session.close());
	const show = $derived(session.show.state);
	const time = useNow(session.show);

	const current = $derived(show && currentCue(show));
	const next = $derived(show && nextCue(show));
	const plan = $derived(show && plannedTimes(show));
	const stands = $derived(show && plan && standing(show, time.now, plan));
	/** What is left of the current line: until it is over by itself, or as it is planned. */
	const leftMs = $derived.by(() => {
		if (!show || !current || !stands) return null;
		const comes = following(show);
		return comes?.is === 'over' ? comes.at - time.now : stands.leftMs;
	});
	const OTHER_DAY_MS = 4 * 3_600_000;
	const overMs = $derived(stands?.overMs != null && Math.abs(stands.overMs) < OTHER_DAY_MS ? stands.overMs : null);
	const at = (ms: number | null | undefined) =>
		ms == null || !show ? '' : timeOfDay(ms, show.setup.timeZone).slice(0, 5);
	const span = (ms: number) => clockOf(Math.ceil(Math.abs(ms) / 1000));
	/** Within a minute nobody is late. */
	const IN_TIME_MS = 60_000;

	/** The line that belongs to who is looking; kept on this phone. */
	const key = untrack(() => `bivvo-mine-${eventId}`);
	let mineId = $state(localStorage.getItem(key));
	function choose(id: string | null) {
		mineId = id;
		if (id === null) localStorage.removeItem(key);
		else localStorage.setItem(key, id);
	}
	const mine = $derived(show?.setup.cues.find(({ id }) => id === mineId) ?? null);
	const place = (cue: Cue | null) => (cue && show ? show.setup.cues.findIndex(({ id }) => id === cue.id) : -1);
	const mineText = $derived.by(() => {
		if (!mine || !stands) return null;
		if (mine.id === current?.id) return { large: words.youNow, small: '' };
		if (place(mine) < place(current)) return { large: words.youDone, small: '' };
		const comes = stands.expected.get(mine.id) ?? plan?.get(mine.id)?.at ?? null;
		if (comes === null) return null;
		return { large: words.youIn(span(Math.max(0, comes - time.now))), small: words.youAbout(at(comes)) };
	});
	let timer = $state(false);
</script>

{#if show && stands && plan}
	{#if timer}
		<Button
			look="bare"
			class="grid h-dvh w-full place-content-center justify-items-center gap-[4vh] bg-ink p-4 text-center text-paper"
			aria-label={words.closeTimer}
			onclick={() => (timer = false)}
		>
			<span class="block text-[6vw] font-semibold">{current?.name ?? words.notBegun}</span>
			<span
				class="figures block text-[22vw] leading-none font-semibold {leftMs !== null && leftMs < 0
					? 'bg-lamp px-[2vw] text-ink'
					: ''}">{leftMs === null ? clockOf(stands.lastedMs / 1000) : `${leftMs < 0 ? '+' : ''}${span(leftMs)}`}</span
			>
			{#if next}<span class="block text-[4vw] text-gray-300">{words.next}: {next.name}</span>{/if}
		</Button>
	{:else}
		<main class="mx-auto grid max-w-2xl gap-3 p-3 pb-10 print:max-w-none print:p-0">
			<div class="print:hidden"><EventNav eventId={session.eventId} here="sheet" title={show.setup.title} /></div>
			<h1 class="hidden text-2xl font-bold print:block">{show.setup.title}</h1>
			<CrewInbox
				place={{ page: 'sheet', sourceId: null }}
				reader={readerName(crewWords.places.sheet)}
				class="print:hidden"
			/>
			{#if !session.show.connected}<p class="border-l-4 border-lamp px-3 font-semibold" role="alert">
					{words.connectionLost}
				</p>{/if}
			<section class="grid gap-2 rounded-sm bg-ink p-4 text-paper print:hidden" aria-live="off">
				<p class="flex justify-between gap-2 text-sm">
					<span class={session.isOnAir ? 'bg-air px-2 font-bold' : 'text-gray-300'}
						>{session.isOnAir ? words.onAir : words.offAir}</span
					>
					{#if current && overMs !== null}
						<span class="font-semibold {overMs > IN_TIME_MS ? 'text-lamp' : ''}">
							{Math.abs(overMs) < IN_TIME_MS
								? words.onTime
								: overMs > 0
									? words.late(span(overMs))
									: words.early(span(overMs))}
						</span>
					{/if}
				</p>
				<div>
					<p class="text-sm text-gray-300">{words.now}</p>
					<p class="text-2xl font-bold">{current?.name ?? words.notBegun}</p>
					{#if current && leftMs !== null}
						<p class="figures text-4xl font-semibold {leftMs < 0 ? 'text-lamp' : ''}" role="timer">
							{leftMs >= 0 ? words.left(span(leftMs)) : words.longer(span(leftMs))}
						</p>
					{:else if current}
						<p class="figures text-2xl" role="timer">{words.lasts(clockOf(stands.lastedMs / 1000))}</p>
					{/if}
				</div>
				{#if next}
					<div>
						<p class="text-sm text-gray-300">{words.next}</p>
						<p class="text-xl font-semibold">{next.name}</p>
					</div>
				{:else if current}
					<p>{words.over}</p>
				{/if}
			</section>
			<section class="rounded-sm border-2 border-lamp p-4 print:hidden" aria-label={words.yourLine}>
				{#if mine && mineText}
					<p class="text-sm text-gray-600">{mine.name}</p>
					<p class="figures text-3xl font-bold" role="timer">{mineText.large}</p>
					<p>{mineText.small}</p>
				{:else}
					<p>{words.chooseYours}</p>
				{/if}
			</section>
			<div class="flex gap-2 print:hidden">
				<Button size="touch" hint={words.timerHint} onclick={() => (timer = true)}>{words.timer}</Button>
				<Button size="touch" onclick={() => window.print()}>{words.print}</Button>
			</div>
			<section aria-labelledby="order">
				<h2 id="order" class="mb-1 text-lg font-semibold">{words.order}</h2>
				<ol class="print:text-[11pt]">
					{#each show.setup.cues as cue (cue.id)}
						{#if cue.heading}
							<li class="mt-2 border-b-2 border-ink pt-2 font-bold">{cue.name}</li>
						{:else}
							<li
								class="grid grid-cols-[3.5rem_minmax(0,1fr)_auto] items-center gap-2 border-b border-gray-300 py-2 print:py-1 {cue.id ===
								current?.id
									? 'bg-gray-200 print:bg-transparent'
									: ''} {isDoable(cue) ? '' : 'line-through opacity-60'}"
								aria-current={cue.id === current?.id ? 'step' : undefined}
							>
								<span class="figures">{at(plan.get(cue.id)?.at)}</span>
								<span class="min-w-0">
									<span class="block font-semibold break-words">{cue.name}</span>
									{#if cue.note}<span class="block text-sm text-gray-600">{cue.note}</span>{/if}
								</span>
								<span class="flex items-center gap-2">
									<span class="figures text-sm text-gray-600"
										>{plan.get(cue.id)?.lengthMs ? clockOf(plan.get(cue.id)!.lengthMs! / 1000) : ''}</span
									>
									<span class="print:hidden">
										<Button
											size="touch"
											aria-pressed={cue.id === mineId}
											class={cue.id === mineId ? 'border-lamp bg-lamp' : ''}
											aria-label="{cue.id === mineId ? words.notMine : words.mine}: {cue.name}"
											onclick={() => choose(cue.id === mineId ? null : cue.id)}>{cue.id === mineId ? '★' : '☆'}</Button
										>
									</span>
								</span>
							</li>
						{/if}
					{:else}
						<li class="rounded-sm border-2 border-dashed border-gray-300 p-4">{words.empty}</li>
					{/each}
				</ol>
			</section>
		</main>
	{/if}
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}
