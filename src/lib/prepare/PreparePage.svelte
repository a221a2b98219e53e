<script lang="ts">
	/** An event before its evening: sources as they look now, clips, and the order of what happens. */
	import { format } from 'date-fns';
	import { onMount, untrack } from 'svelte';
	import { isClip } from '../../core/show/clips/source.ts';
	import { kindOf } from '../../core/show/sources/source.ts';
	import EventDoors from '../access/EventDoors.svelte';
	import { provideDesk } from '../desk/context.ts';
	import { DeskSession } from '../desk/desk-session.svelte.ts';
	import LookFields from '../desk/overlays/LookFields.svelte';
	import CueSheet from '../desk/runsheet/CueSheet.svelte';
	import RunSheet from '../desk/runsheet/RunSheet.svelte';
	import SheetTools from '../desk/runsheet/SheetTools.svelte';
	import AddSource from '../desk/sources/AddSource.svelte';
	import SourceSheet from '../desk/sources/SourceSheet.svelte';
	import SourceStage from '../desk/sources/SourceStage.svelte';
	import PictureAndMachine from '../machine/PictureAndMachine.svelte';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import Troubles from '../troubles/Troubles.svelte';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import EventNav from '../ui/EventNav.svelte';
	import Fold from '../ui/Fold.svelte';
	import { overlays as overlayWords, prepare as words } from '../words/index.ts';
	import EventClips from './EventClips.svelte';
	import SourceCard from './SourceCard.svelte';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	/** A phone opens no cameras: it would take them from the desk that comes later. */
	const LIVE = '(min-width: 1024px)';
	const makes = matchMedia(LIVE).matches ? 'untilDesk' : 'never';
	const session = provideDesk(untrack(() => new DeskSession(eventId, false, makes)));
	const show = $derived(session.show.state);
	const sheet = $derived(session.sheet.subject);
	/** What is seen, then what is only heard. */
	const sources = $derived.by(() => {
		const all = show?.setup.sources.filter((source) => !isClip(source)) ?? [];
		const seen = all.filter((source) => kindOf(source).brings.picture);
		return [...seen, ...all.filter((source) => !seen.includes(source))];
	});
	const startsAt = $derived(show?.setup.startsAt);

	onMount(beDark);
	onMount(() => {
		const wake = () => void session.wake();
		window.addEventListener('click', wake);
		return () => {
			window.removeEventListener('click', wake);
			session.close();
		};
	});
</script>

{#if show}
	<div class="grid min-h-screen grid-rows-[auto_auto_minmax(0,1fr)] bg-ink text-paper lg:h-screen">
		<header class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-slate-rule bg-slate-panel px-3 py-2">
			<div class="min-w-0">
				<h1 class="truncate text-lg font-bold">{show.setup.title}</h1>
				<EventNav {eventId} here="prepare" beside={session.isOnAir} />
			</div>
			<p
				class="px-3 py-1 font-bold {session.isRehearsing
					? 'border-2 border-dashed border-ink bg-paper text-ink'
					: session.isOnAir
						? 'bg-air text-white'
						: 'text-gray-300'}"
			>
				{session.isRehearsing ? words.rehearsal : session.isOnAir ? words.onAir : words.offAir}
			</p>
			<p class="text-gray-300">
				{startsAt ? words.starts(format(new Date(startsAt), 'EEEE d MMMM, HH:mm')) : words.noStart}
			</p>
			<Button look="main" class="ml-auto" href="/events/{eventId}" target={session.isOnAir ? '_blank' : undefined}
				>{words.toDesk}</Button
			>
		</header>
		<Troubles desk={session} />
		<div
			class="grid min-h-0 gap-3 p-3 {sheet
				? 'lg:grid-cols-[minmax(0,1fr)_24rem]'
				: 'lg:grid-cols-[minmax(0,1fr)_minmax(27rem,38%)]'}"
		>
			{#if sheet?.is !== 'cue'}
				<main class="grid min-h-0 content-start gap-4 lg:overflow-y-auto">
					{#if sheet?.is === 'source' && kindOf(sheet.source).brings.picture && session.isEngine}
						<div class="flex h-[24rem]"><SourceStage editing={sheet.editing} source={sheet.source} /></div>
					{/if}
					<section class="grid gap-2" aria-labelledby="sources">
						<div class="flex flex-wrap items-center justify-between gap-2">
							<h2 id="sources" class="text-lg font-semibold">{words.sources}</h2>
							<Button onclick={() => (session.adding = true)}>{words.addSource}</Button>
						</div>
						{#if session.isWatching}<p class="text-sm text-gray-300">{words.picturesInDesk}</p>
						{:else if makes === 'never'}<p class="text-sm text-gray-300">{words.picturesHere}</p>{/if}
						<ul class="grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-2">
							{#each sources as source (source.id)}
								<SourceCard {source} />
							{:else}
								<li class="col-span-full rounded-sm border-2 border-dashed border-gray-500 p-4 text-gray-300">
									{words.noSource}
								</li>
							{/each}
						</ul>
					</section>
					<EventClips />
					<PictureAndMachine />
					<Fold title={overlayWords.look}><LookFields /></Fold>
					<EventDoors {eventId} title={show.setup.title} />
				</main>
			{/if}
			{#if sheet?.is !== 'source'}
				<section class="flex min-h-[30rem] flex-col gap-2 lg:min-h-0" aria-labelledby="sheet">
					<h2 id="sheet" class="text-lg font-semibold">{words.sheet}</h2>
					<SheetTools />
					<RunSheet plans />
				</section>
			{/if}
			{#if sheet?.is === 'source'}
				<SourceSheet editing={sheet.editing} source={sheet.source} />
			{:else if sheet?.is === 'cue'}
				<CueSheet cue={sheet.cue} />
			{/if}
		</div>
	</div>
	<Notices />
	<AddSource bind:open={session.adding} />
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}
