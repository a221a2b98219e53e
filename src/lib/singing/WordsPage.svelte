<script lang="ts">
	/** For whoever turns the words: what stands in the hall and for viewers, what comes, and one large press for it. */
	import { onMount, untrack } from 'svelte';
	import { COMMAND_RULES } from '../../core/access/policy.ts';
	import { wordsShownCommand } from '../../core/show/words/shown.ts';
	import { comingStep, inHall, isWordsShown, onStream, standing } from '../../core/show/words/standing.ts';
	import ActionButton from '../actions/ActionButton.svelte';
	import { provideActions, waitedMs } from '../actions/context.ts';
	import { Keys } from '../actions/keys.svelte.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import { provideSession } from '../show/context.ts';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import { viewsOf } from '../show/watched-views.ts';
	import WatchedPicture from '../show/WatchedPicture.svelte';
	import { sectionName } from '../songs/section-name.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import { beDark } from '../ui/dark.ts';
	import EventNav from '../ui/EventNav.svelte';
	import { crew as crewWords, singing as words } from '../words/index.ts';
	import AllLines from './AllLines.svelte';
	import EveningOrder from './EveningOrder.svelte';
	import { nextSection } from './jump.ts';
	import SlideBox from './SlideBox.svelte';
	import WordsLook from './WordsLook.svelte';
	import { page } from '$app/state';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const show = $derived(session.show.state);
	const now = $derived(show && standing(show));
	const coming = $derived(show && comingStep(show));
	const mayTake = $derived(page.data.role != null && COMMAND_RULES.take.includes(page.data.role));
	const isShown = $derived(show !== null && isWordsShown(show));

	const { keys, run } = provideActions({
		keys: new Keys(),
		run(action, event) {
			if (show) action.run({ session, show, waitedMs: waitedMs(event), openHelp: () => {} });
		},
	});
	/** Keys of this page; on the desk some of them are for something else. */
	const OWN = {
		...{ Space: 'next-line', ArrowRight: 'next-line', ArrowDown: 'next-line' },
		...{ ArrowLeft: 'previous-line', ArrowUp: 'previous-line' },
		// Presenters and pedals that turn pages.
		...{ PageDown: 'next-line', PageUp: 'previous-line' },
	};
	const LISTENED = [
		'next-line',
		'previous-line',
		'words',
		'hush',
		...Array.from({ length: 9 }, (_, i) => `take-scene-${i + 1}`),
	];

	onMount(beDark);
	onMount(() => {
		const endKeys = keys.listen(window, run, LISTENED, OWN);
		return () => {
			endKeys();
			session.close();
		};
	});

	/** The first letter of a part jumps to it. */
	function jump(event: KeyboardEvent) {
		const { target, key, ctrlKey, metaKey, altKey } = event;
		if (!now || ctrlKey || metaKey || altKey || (target as Element).closest('input, textarea, select')) return;
		const step = nextSection(now.cut, now.step, key, sectionName);
		if (step === null) return;
		event.preventDefault();
		session.do({ type: 'showWords', itemId: now.item.id, step });
	}
	const letters = $derived(
		[...new Set((now?.cut.sections ?? []).map((section) => sectionName(section)[0]!))].join(', '),
	);

	function toggleStream() {
		const command = show && wordsShownCommand(show, !isShown);
		if (command) session.do(command);
	}
	/** What the hall sees behind words. */
	const SCENE = 'scene:';
	const behind = $derived(
		!show
			? 'ground'
			: show.live.hall.behind.is === 'scene'
				? SCENE + show.live.hall.behind.sceneId
				: show.live.hall.behind.is,
	);
	const grounds = $derived<Choice<string>[]>([
		['ground', words.behindGround],
		['program', words.behindProgram],
		...(show?.setup.scenes ?? []).map(({ id, name }): Choice<string> => [SCENE + id, name]),
	]);
	function setBehind(value: string) {
		if (!show) return;
		const chosen =
			value === 'program'
				? { is: 'program' as const }
				: value.startsWith(SCENE)
					? { is: 'scene' as const, sceneId: value.slice(SCENE.length) }
					: { is: 'ground' as const };
		session.do({ type: 'setHall', hall: { ...show.live.hall, behind: chosen } });
	}
	let lookOpen = $state(false);
	const views = viewsOf(untrack(() => eventId));
	function toggleHall() {
		if (show) session.do({ type: 'setHall', hall: { ...show.live.hall, words: !show.live.hall.words } });
	}
</script>

<svelte:window onkeydown={jump} />

{#if show}
	{@const hallFit = show.setup.words.look.hall.fit}
	{@const streamFit = show.setup.words.look.stream.fit}
	<div class="grid min-h-screen grid-rows-[auto_minmax(0,1fr)] bg-ink text-paper lg:h-screen">
		<header class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-slate-rule bg-slate-panel px-3 py-2">
			<EventNav {eventId} here="words" title={show.setup.title} />
			<p class="rounded-sm px-3 py-1 font-bold {session.isOnAir ? 'bg-air text-white' : 'bg-gray-700'}">
				{session.isOnAir ? words.onAir : words.notOnAir}
			</p>
			{#if !session.show.connected}<p class="border-l-4 border-lamp px-3 font-semibold" role="alert">
					{words.connectionLost}
				</p>{/if}
			<span class="ml-auto flex items-center gap-2 text-sm">
				<Button size="sm" onclick={() => (lookOpen = true)}>{words.look}</Button>
				<a class="inline-block min-h-6 underline" href="/events/{eventId}/hall" target="_blank" rel="noreferrer"
					>{words.openHall}</a
				>
				<a class="inline-block min-h-6 underline" href="/events/{eventId}/stage" target="_blank" rel="noreferrer"
					>{words.openStage}</a
				>
			</span>
		</header>
		<div
			class="grid min-h-0 grid-cols-1 gap-2 p-2 md:grid-cols-[15rem_minmax(0,1fr)] lg:grid-cols-[13rem_minmax(0,1fr)_15rem] xl:grid-cols-[17rem_minmax(0,1fr)_17rem]"
		>
			<EveningOrder />
			<main class="grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)] gap-2">
				<div class="grid grid-cols-1 gap-2 sm:grid-cols-2">
					<section class="panel grid content-start gap-2 p-2" aria-label={words.hall}>
						<h2 class="flex items-center justify-between gap-2 font-semibold">
							{words.hall}
							<Button size="touch" aria-pressed={!show.live.hall.words} onpress={toggleHall}
								>{show.live.hall.words ? words.blankHall : words.showHall}</Button
							>
						</h2>
						<SlideBox
							slide={inHall(show)}
							fit={hallFit}
							empty={show.live.hall.words ? words.nothingStands : words.hallBlank}
							tall
						/>
						<div class="flex items-center gap-2">
							<span class="text-sm text-gray-300">{words.behind}</span>
							<ChoiceField label={words.behind} value={behind} choices={grounds} onchange={setBehind} class="flex-1" />
						</div>
					</section>
					<section class="panel grid content-start gap-2 p-2" aria-label={words.stream}>
						<h2 class="flex items-center justify-between gap-2 font-semibold">
							{words.stream}
							<Button size="touch" aria-pressed={!isShown} onpress={toggleStream}
								>{isShown ? words.blankStream : words.showStream}</Button
							>
						</h2>
						<SlideBox
							slide={isShown ? onStream(show) : null}
							fit={streamFit}
							empty={isShown ? words.nothingStands : words.streamBlank}
						/>
						<h3 class="text-sm text-gray-300">{words.comes}</h3>
						<SlideBox slide={coming?.step ?? null} fit={streamFit} empty={words.over} dim />
					</section>
				</div>
				<div class="grid grid-cols-[auto_minmax(0,1fr)] gap-2">
					<ActionButton action="previous-line" size="touch" class="h-20" />
					<ActionButton action="next-line" look="main" class="h-20 min-w-0 flex-col px-3">
						<span class="text-base">{coming ? words.nextLine : words.wordsAway}</span>
						<span class="w-full truncate text-2xl">{coming?.step.rows[0]?.text ?? ''}</span>
					</ActionButton>
				</div>
				{#if now}
					<AllLines item={now.item} cut={now.cut} step={now.step} {letters} />
				{:else}
					<p class="panel p-4 text-gray-300">{show.setup.words.items.length === 0 ? words.empty : words.choose}</p>
				{/if}
			</main>
			{#if mayTake}
				<aside
					class="panel grid min-h-0 auto-rows-max grid-cols-2 content-start gap-2 overflow-y-auto p-2 md:max-lg:col-span-2 md:max-lg:grid-cols-4"
					aria-label={words.scenes}
				>
					<h2 class="col-span-full font-semibold">{words.scenes}</h2>
					{#each show.setup.scenes as { id, name }, index (id)}
						<Button
							look="bare"
							class="relative min-h-11 w-full overflow-hidden rounded-sm border-4 text-left {id === show.live.program
								? 'border-air'
								: 'border-slate-rule hover:border-lamp'}"
							aria-label={words.take(name)}
							aria-pressed={id === show.live.program}
							onpress={() => session.do({ type: 'take', sceneId: id })}
						>
							<WatchedPicture {views} view="wall" sceneId={id} label="" class="aspect-video w-full bg-black" />
							<span class="absolute inset-x-0 bottom-0 truncate bg-ink/85 px-1 text-sm font-semibold"
								>{index + 1} {name}</span
							>
							{#if id === show.live.program}
								<strong class="absolute top-0 left-0 bg-air px-1 text-sm whitespace-nowrap text-white"
									>{session.isOnAir ? words.onAir : words.program}</strong
								>
							{/if}
						</Button>
					{/each}
				</aside>
			{/if}
		</div>
		<CrewInbox
			place={{ page: 'words', sourceId: null }}
			reader={crewWords.places.words}
			class="fixed bottom-2 left-2 z-40 w-96 max-w-[95vw]"
		/>
		<WordsLook bind:open={lookOpen} />
		<Notices class="bottom-28 left-2 max-w-64" />
	</div>
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}
