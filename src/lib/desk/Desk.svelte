<script lang="ts">
	/** The page of the technical director: makes the program and switches it. */
	import { ButtonGroup } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import { kindOf } from '../../core/show/sources/source.ts';
	import { provideActions, waitedMs } from '../actions/context.ts';
	import KeyHelp from '../actions/KeyHelp.svelte';
	import { Keys } from '../actions/keys.svelte.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import CrewSay from '../crew/CrewSay.svelte';
	import ChannelSheet from '../mix/ChannelSheet.svelte';
	import SoundColumn from '../mix/SoundColumn.svelte';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import Lead from '../troubles/Lead.svelte';
	import Troubles from '../troubles/Troubles.svelte';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import Sheet from '../ui/Sheet.svelte';
	import { crew as crewWords, desk as words, guest as guestWords } from '../words/index.ts';
	import TimeLeft from './clips/TimeLeft.svelte';
	import { provideDesk } from './context.ts';
	import DeliverySheet from './delivery/DeliverySheet.svelte';
	import Destinations from './delivery/Destinations.svelte';
	import ViewerMessages from './delivery/ViewerMessages.svelte';
	import { DeskSession } from './desk-session.svelte.ts';
	import GuestsPanel from './guests/GuestsPanel.svelte';
	import { playKnock } from './guests/knock-sound.ts';
	import OverlayBar from './overlays/OverlayBar.svelte';
	import OverlaySheet from './overlays/OverlaySheet.svelte';
	import Monitor from './pictures/Monitor.svelte';
	import CueSheet from './runsheet/CueSheet.svelte';
	import RunSheet from './runsheet/RunSheet.svelte';
	import SceneSheet from './scenes/SceneSheet.svelte';
	import SceneStage from './scenes/SceneStage.svelte';
	import { openWallWindow } from './scenes/wall-window.ts';
	import Wall from './scenes/Wall.svelte';
	import AddSource from './sources/AddSource.svelte';
	import Sources from './sources/Sources.svelte';
	import SourceSheet from './sources/SourceSheet.svelte';
	import SourceStage from './sources/SourceStage.svelte';
	import TakePanel from './takes/TakePanel.svelte';
	import TopBar from './TopBar.svelte';

	interface Props {
		eventId: string;
		canRehearse: boolean;
	}
	let { eventId, canRehearse }: Props = $props();

	const session = provideDesk(untrack(() => new DeskSession(eventId, canRehearse)));
	const show = $derived(session.show.state);
	const sheet = $derived(session.sheet.subject);
	/** The stage of what is being set up takes the place of Next. */
	const isEditing = $derived(sheet?.is === 'scene' || (sheet?.is === 'source' && kindOf(sheet.source).brings.picture));
	const sceneName = (id: string | null) => show?.setup.scenes.find((scene) => scene.id === id)?.name;

	const waiting = $derived(show?.live.guests.filter(({ isIn }) => !isIn).length ?? 0);

	let waited = 0;
	$effect(() => {
		if (waiting > waited) playKnock(session.engine, session.ears.hearing.to !== 'nothing');
		waited = waiting;
	});

	let helpOpen = $state(false);
	let dialogOpen = $state(false);
	/** The line check, and whoever is led, come here to rehearse. */
	function openNamed() {
		if (location.hash === '#rehearse' && !session.isOnAir) dialogOpen = true;
	}
	const { keys, run } = provideActions({
		keys: new Keys(),
		run(action, event) {
			if (show) action.run({ session, show, waitedMs: waitedMs(event), openHelp: () => (helpOpen = true) });
		},
	});
	$effect(() => keys.listen(window, run));

	let closeWall: (() => void) | null = null;
	function openWall() {
		try {
			closeWall = openWallWindow(session);
		} catch (error) {
			session.notify((error as Error).message);
		}
	}

	onMount(beDark);
	onMount(() => {
		openNamed();
		const wake = () => void session.wake();
		// Not on the way down: the line that asks for it goes, and what was pressed must not move from under the finger.
		window.addEventListener('click', wake);
		window.addEventListener('keydown', wake);
		return () => {
			closeWall?.();
			window.removeEventListener('click', wake);
			window.removeEventListener('keydown', wake);
			session.close();
		};
	});

	function beforeLeaving(event: BeforeUnloadEvent) {
		if (session.isOnAir && session.isEngine) event.preventDefault();
	}
</script>

<svelte:window onbeforeunload={beforeLeaving} onhashchange={openNamed} />

{#if show}
	<div
		class="grid h-screen min-h-[720px] min-w-[1180px] grid-cols-[23rem_minmax(0,1fr)_18.5rem] grid-rows-[auto_auto_minmax(0,1fr)_auto] bg-ink text-paper"
	>
		<div class="col-span-3"><TopBar onhosts={() => session.showLeft('setUp')} bind:dialogOpen /></div>
		<div class="col-span-3">
			<Troubles desk={session}>{#snippet quietly()}<Lead desk={session} />{/snippet}</Troubles>
		</div>

		<aside class="flex min-h-0 flex-col gap-2 p-2" aria-label={words.leftSide}>
			<ButtonGroup class="grid grid-cols-[auto_auto_auto]">
				<Button
					size="sm"
					lit="edge"
					aria-pressed={session.left === 'runSheet'}
					onpress={() => session.showLeft('runSheet')}>{words.runSheet}</Button
				>
				<Button size="sm" lit="edge" aria-pressed={session.left === 'setUp'} onpress={() => session.showLeft('setUp')}
					>{words.sourcesDestinations}</Button
				>
				<Button
					size="sm"
					lit="edge"
					class={waiting > 0 ? 'dark:text-lamp' : ''}
					aria-label={waiting > 0 ? guestWords.guestsWaiting(waiting) : undefined}
					aria-pressed={session.left === 'guests'}
					onpress={() => session.showLeft('guests')}
					>{waiting > 0 ? `▲ ${guestWords.guests} (${waiting})` : guestWords.guests}</Button
				>
			</ButtonGroup>
			{#if session.left === 'runSheet'}
				<RunSheet />
			{:else if session.left === 'guests'}
				<GuestsPanel />
			{:else}
				<div class="grid min-h-0 content-start gap-2 overflow-y-auto">
					<Destinations />
					<Sources />
				</div>
			{/if}
			<ViewerMessages />
		</aside>

		<main class="flex min-h-0 flex-col gap-2 overflow-clip py-2">
			<div
				class={isEditing
					? 'flex min-h-0 flex-[9] flex-col gap-2'
					: 'grid grid-cols-1 gap-2 min-[1500px]:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]'}
			>
				<section class="relative {isEditing ? 'h-[12.5rem] self-center' : ''}" aria-label={words.onAir}>
					<Monitor
						subject={{ bus: 'program' }}
						mark={session.programMark}
						label={sceneName(show.live.program) ?? words.nothing}
						empty={show.live.program === null}
						note={show.live.black
							? words.black
							: show.live.lever > 0
								? words.halfWay(sceneName(show.live.next) ?? '')
								: ''}
						class={isEditing ? 'h-full' : 'w-full'}
					/>
					<TimeLeft />
				</section>
				{#if sheet?.is === 'scene'}
					<SceneStage editing={sheet.editing} scene={sheet.scene} />
				{:else if sheet?.is === 'source' && kindOf(sheet.source).brings.picture}
					<SourceStage editing={sheet.editing} source={sheet.source} />
				{:else}
					<section class="flex h-[11.75rem] gap-2 min-[1500px]:h-auto min-[1500px]:flex-col" aria-label={words.next}>
						<Monitor
							subject={{ bus: 'next' }}
							mark="next"
							label={sceneName(show.live.next) ?? words.nothing}
							empty={show.live.next === null}
							class="h-[9.5rem] min-[1500px]:h-auto min-[1500px]:w-full"
						/>
						<TakePanel />
					</section>
				{/if}
			</div>
			<Wall onsecond={openWall} />
		</main>

		{#if sheet?.is === 'scene'}
			<SceneSheet editing={sheet.editing} scene={sheet.scene} />
		{:else if sheet?.is === 'source'}
			<SourceSheet editing={sheet.editing} source={sheet.source} />
		{:else if sheet?.is === 'channel'}
			<ChannelSheet channel={sheet.channel} onclose={() => session.sheet.close()} />
		{:else if sheet?.is === 'cue'}
			<CueSheet cue={sheet.cue} />
		{:else if sheet?.is === 'overlays'}
			<OverlaySheet />
		{:else if sheet?.is === 'delivery'}
			<DeliverySheet />
		{:else if sheet?.is === 'crew'}
			<Sheet title={crewWords.messages} onclose={() => session.sheet.close()}
				><Button
					size="touch"
					class="mb-2 w-full"
					aria-pressed={session.talksTo === 'crew'}
					hint={crewWords.talkHint}
					onhold={(held) => void session.talk(held ? 'crew' : null)}>{crewWords.talk}</Button
				>
				<CrewSay from={crewWords.places.desk} /></Sheet
			>
		{:else}
			<SoundColumn />
		{/if}
		<OverlayBar />
	</div>
	<CrewInbox
		place={{ page: 'desk', sourceId: null }}
		reader={crewWords.places.desk}
		class="fixed bottom-14 left-2 z-40 w-[22rem]"
	/>
	<Notices />
	<AddSource bind:open={session.adding} />
	<KeyHelp bind:open={helpOpen} {keys} />
{:else}
	<Opening what={words.desk} gone={session.show.gone} />
{/if}
