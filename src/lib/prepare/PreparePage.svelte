<script lang="ts">
	/** An event before its evening: sources as they look now, clips, and the order of what happens. */
	import { format } from 'date-fns';
	import { onMount, untrack } from 'svelte';
	import { isClip } from '../../core/show/clips/source.ts';
	import { kindOf } from '../../core/show/sources/source.ts';
	import EventDoors from '../access/EventDoors.svelte';
	import { provideDesk } from '../desk/context.ts';
	import DeliverySheet from '../desk/delivery/DeliverySheet.svelte';
	import Destinations from '../desk/delivery/Destinations.svelte';
	import { DeskSession } from '../desk/desk-session.svelte.ts';
	import GuestLinks from '../desk/guests/GuestLinks.svelte';
	import LookFields from '../desk/overlays/LookFields.svelte';
	import OverlaySheet from '../desk/overlays/OverlaySheet.svelte';
	import PeopleFields from '../desk/overlays/PeopleFields.svelte';
	import CueSheet from '../desk/runsheet/CueSheet.svelte';
	import RunSheet from '../desk/runsheet/RunSheet.svelte';
	import SheetTools from '../desk/runsheet/SheetTools.svelte';
	import SceneSheet from '../desk/scenes/SceneSheet.svelte';
	import SceneStage from '../desk/scenes/SceneStage.svelte';
	import AddSource from '../desk/sources/AddSource.svelte';
	import SourceSheet from '../desk/sources/SourceSheet.svelte';
	import SourceStage from '../desk/sources/SourceStage.svelte';
	import PictureAndMachine from '../machine/PictureAndMachine.svelte';
	import ChannelSheet from '../mix/ChannelSheet.svelte';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import Lead from '../troubles/Lead.svelte';
	import Troubles from '../troubles/Troubles.svelte';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import EventNav from '../ui/EventNav.svelte';
	import Fold from '../ui/Fold.svelte';
	import { overlays as overlayWords, prepare as words } from '../words/index.ts';
	import ChannelCards from './ChannelCards.svelte';
	import EventClips from './EventClips.svelte';
	import Fields from './Fields.svelte';
	import { openPlace } from './place.ts';
	import SceneCards from './SceneCards.svelte';
	import SourceCard from './SourceCard.svelte';
	import TemplateBox from './TemplateBox.svelte';

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
	/** What the run sheet makes room for. */
	const isBesides = $derived(sheet !== null && sheet.is !== 'cue');
	const isStaged = $derived(sheet?.is === 'scene' || (sheet?.is === 'source' && kindOf(sheet.source).brings.picture));
	/** Parts of the page in the order in which one sets them up, each with how many there are. */
	const parts = $derived(
		show
			? ([
					['fields', words.fields, show.setup.fields.length],
					['sources', words.sources, sources.length],
					['scenes', words.scenes, show.setup.scenes.length],
					['sound', words.sound, show.setup.channels.length],
					['destinations', words.destinations, show.setup.destinations.filter(({ ticked }) => ticked).length],
					['sheet', words.sheet, show.setup.cues.length],
					['people', words.people, show.setup.people.length],
					['guests', words.guests, null],
					['doors', words.panels, null],
				] as const)
			: [],
	);
	/** Once the page is there, what its address names is opened. */
	let isOpened = false;
	function openNamed() {
		if (!show || !openPlace(session, location.hash)) document.querySelector(location.hash || '#none')?.scrollIntoView();
	}
	$effect(() => {
		if (!show || isOpened) return;
		isOpened = true;
		if (/^#[a-zA-Z]/u.test(location.hash)) requestAnimationFrame(openNamed);
	});

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

<svelte:window onhashchange={openNamed} />

{#if show}
	<div class="grid min-h-screen grid-cols-1 grid-rows-[auto_auto_auto_minmax(0,1fr)] bg-ink text-paper lg:h-screen">
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
		<div><Troubles desk={session}>{#snippet quietly()}<Lead desk={session} />{/snippet}</Troubles></div>
		<nav
			class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-slate-rule px-3 py-1 text-sm"
			aria-label={words.parts}
		>
			{#each parts as [id, name, count] (id)}
				<a class="inline-block min-h-6 underline hover:text-lamp" href="#{id}"
					>{name}{#if count !== null}<span class="figures ml-1 text-gray-300">{count}</span>{/if}</a
				>
			{/each}
		</nav>
		<div
			class="grid min-h-0 grid-cols-1 gap-3 p-3 {sheet
				? 'lg:grid-cols-[minmax(0,1fr)_24rem]'
				: 'lg:grid-cols-[minmax(0,1fr)_minmax(27rem,38%)]'}"
		>
			{#if sheet?.is !== 'cue'}
				<main class="grid min-h-0 grid-cols-1 content-start gap-6 lg:overflow-y-auto">
					{#if isStaged && session.isEngine}
						<div class="flex h-[24rem]">
							{#if sheet?.is === 'scene'}
								<SceneStage editing={sheet.editing} scene={sheet.scene} />
							{:else if sheet?.is === 'source'}
								<SourceStage editing={sheet.editing} source={sheet.source} />
							{/if}
						</div>
					{/if}
					<Fields />
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
					<SceneCards />
					<ChannelCards />
					<Destinations />
					<section class="grid gap-2" aria-labelledby="people">
						<h2 id="people" class="text-lg font-semibold">{words.people}</h2>
						<div class="panel grid gap-1 p-3"><PeopleFields /></div>
						<Fold title={overlayWords.look}><LookFields /></Fold>
						<Button class="justify-self-start" onclick={() => session.sheet.editOverlays()}>{words.overlays}</Button>
					</section>
					<section class="grid gap-2" aria-labelledby="guests">
						<h2 id="guests" class="text-lg font-semibold">{words.guests}</h2>
						<div class="panel p-3"><GuestLinks {eventId} guests={show.live.guests.length} /></div>
					</section>
					<section class="grid gap-2" aria-labelledby="doors">
						<h2 id="doors" class="text-lg font-semibold">{words.panels}</h2>
						<div class="flex flex-wrap gap-2">
							<Button href="/events/{eventId}/panels">{words.toPanels}</Button>
							<Button href="/events/{eventId}/words">{words.toWords}</Button>
						</div>
						<EventDoors {eventId} title={show.setup.title} />
					</section>
					<PictureAndMachine />
					<TemplateBox />
				</main>
			{/if}
			{#if !isBesides}
				<section class="flex min-h-[30rem] flex-col gap-2 lg:min-h-0" aria-labelledby="sheet">
					<h2 id="sheet" class="text-lg font-semibold">{words.sheet}</h2>
					<SheetTools />
					<RunSheet plans />
				</section>
			{/if}
			{#if sheet?.is === 'source'}
				<SourceSheet editing={sheet.editing} source={sheet.source} />
			{:else if sheet?.is === 'scene'}
				<SceneSheet editing={sheet.editing} scene={sheet.scene} />
			{:else if sheet?.is === 'channel'}
				<ChannelSheet channel={sheet.channel} onclose={() => session.sheet.close()} />
			{:else if sheet?.is === 'overlays'}
				<OverlaySheet />
			{:else if sheet?.is === 'delivery'}
				<DeliverySheet />
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
