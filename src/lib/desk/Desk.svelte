<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { kindOf } from '../../core/show/sources/source.ts';
	import type { Action } from '../actions/actions.ts';
	import { Keys } from '../actions/keys.svelte.ts';
	import ChannelSheet from '../mix/ChannelSheet.svelte';
	import DeliverySheet from './DeliverySheet.svelte';
	import Destinations from './Destinations.svelte';
	import KeyHelp from './KeyHelp.svelte';
	import Monitor from './Monitor.svelte';
	import Notices from './Notices.svelte';
	import OverlayBar from './OverlayBar.svelte';
	import OverlaySheet from './OverlaySheet.svelte';
	import { SceneEditing } from './scene-editing.svelte.ts';
	import SceneSheet from './SceneSheet.svelte';
	import SceneStage from './SceneStage.svelte';
	import { DeskSession } from './session.svelte.ts';
	import SoundColumn from './SoundColumn.svelte';
	import Sources from './Sources.svelte';
	import { SourceEditing } from './source-editing.svelte.ts';
	import SourceSheet from './SourceSheet.svelte';
	import SourceStage from './SourceStage.svelte';
	import TakePanel from './TakePanel.svelte';
	import TopBar from './TopBar.svelte';
	import Troubles from './Troubles.svelte';
	import { openWallWindow } from './wall-window.ts';
	import ViewerMessages from './ViewerMessages.svelte';
	import Wall from './Wall.svelte';

	interface Props {
		eventId: string;
		/** Where what a rehearsal sends is seen; null where nobody can rehearse. */
		rehearsalWatchUrl: string | null;
	}
	let { eventId, rehearsalWatchUrl }: Props = $props();

	const session = new DeskSession(
		untrack(() => eventId),
		true,
		untrack(() => rehearsalWatchUrl),
	);
	const show = $derived(session.show.state);
	let helpOpen = $state(false);

	/** What is set up in the side sheet, if anything. One thing at a time. */
	let editing = $state.raw<SceneEditing | null>(null);
	let editingSource = $state.raw<SourceEditing | null>(null);
	let overlaysOpen = $state(false);
	let deliveryOpen = $state(false);
	const source = $derived(editingSource?.source ?? null);
	let channelId = $state<string | null>(null);
	const channel = $derived(show?.setup.channels.find(({ id }) => id === channelId) ?? null);
	const sheet = $derived(
		editing?.scene
			? 'scene'
			: source
				? 'source'
				: channel
					? 'channel'
					: overlaysOpen
						? 'overlays'
						: deliveryOpen
							? 'delivery'
							: null,
	);

	function closeSheet() {
		editing = null;
		editingSource = null;
		overlaysOpen = deliveryOpen = false;
		channelId = null;
	}
	function editChannel(id: string) {
		closeSheet();
		channelId = id;
	}
	function editScene(id: string) {
		closeSheet();
		editing = new SceneEditing(session, id);
	}
	function editSource(id: string) {
		closeSheet();
		editingSource = new SourceEditing(session, id);
	}
	function run(action: Action) {
		if (show) action.run({ session, show, openHelp: () => (helpOpen = true) });
	}
	const keys = new Keys();
	$effect(() => keys.listen(window, run));

	const nameOf = (sceneId: string | null) => show?.setup.scenes.find(({ id }) => id === sceneId)?.name;

	let closeWall: (() => void) | null = null;
	function openWall() {
		try {
			closeWall = openWallWindow(session);
		} catch (error) {
			session.notify((error as Error).message);
		}
	}

	onMount(() => {
		document.documentElement.classList.add('dark');
		const wake = () => void session.wake();
		// Not on the way down: the line that asks for it goes, and what was pressed must not move from under the finger.
		window.addEventListener('click', wake);
		window.addEventListener('keydown', wake);
		return () => {
			document.documentElement.classList.remove('dark');
			closeWall?.();
			window.removeEventListener('click', wake);
			window.removeEventListener('keydown', wake);
			session.close();
		};
	});

	function beforeLeaving(event: BeforeUnloadEvent) {
		if (session.onAir && session.isEngine) event.preventDefault();
	}
</script>

<svelte:window onbeforeunload={beforeLeaving} />

{#if show}
	<div
		class="grid h-screen min-h-[720px] min-w-[1180px] grid-rows-[auto_auto_minmax(0,1fr)_auto] bg-ink text-paper {sheet
			? 'grid-cols-[15.5rem_minmax(0,1fr)_19rem]'
			: 'grid-cols-[15.5rem_minmax(0,1fr)_14rem]'}"
	>
		<div class="col-span-3"><TopBar {session} {show} onhelp={() => (helpOpen = true)} /></div>
		<div class="col-span-3"><Troubles {session} {show} /></div>

		<aside class="flex min-h-0 flex-col gap-2 overflow-y-auto p-2" aria-label="Sources and destinations">
			<Destinations
				{session}
				{show}
				ondelivery={() => {
					closeSheet();
					deliveryOpen = true;
				}}
			/>
			<ViewerMessages {session} {show} />
			<Sources {session} {show} onedit={editSource} />
		</aside>

		<main class="flex min-h-0 flex-col gap-2 py-2">
			<section class="flex min-h-[13.5rem] flex-[5] justify-center" aria-label="On air">
				<Monitor
					{session}
					subject={{ bus: 'program' }}
					mark={session.programMark}
					label={nameOf(show.live.program) ?? 'Nothing'}
					empty={show.live.program === null}
					note={show.live.black ? 'BLACK' : show.live.lever > 0 ? `half way to ${nameOf(show.live.next) ?? ''}` : ''}
					class="h-full"
				/>
			</section>
			{#if sheet === 'scene' && editing}
				<SceneStage {editing} onclose={closeSheet} />
			{:else if sheet === 'source' && editingSource && source && kindOf(source).brings.picture}
				<SourceStage editing={editingSource} {show} {source} />
			{:else}
				<section
					class="flex gap-2 {sheet ? 'min-h-[12.5rem] flex-[3.4]' : 'min-h-[10.25rem] flex-[2.4]'}"
					aria-label="Next"
				>
					<Monitor
						{session}
						subject={{ bus: 'next' }}
						mark="next"
						label={nameOf(show.live.next) ?? 'Nothing'}
						empty={show.live.next === null}
						class="h-full"
					/>
					<TakePanel {session} {show} />
				</section>
			{/if}
			<Wall {session} {show} onedit={editScene} onsecond={openWall} />
		</main>

		{#if sheet === 'scene' && editing}
			<SceneSheet {editing} {show} onclose={closeSheet} onedit={editScene} />
		{:else if sheet === 'source' && editingSource && source}
			<SourceSheet editing={editingSource} {show} {source} onclose={closeSheet} />
		{:else if sheet === 'channel' && channel}
			<ChannelSheet {session} {show} {channel} onclose={closeSheet} />
		{:else if sheet === 'overlays'}
			<OverlaySheet {session} {show} onclose={closeSheet} />
		{:else if sheet === 'delivery'}
			<DeliverySheet {session} {show} onclose={closeSheet} />
		{:else}
			<SoundColumn {session} {show} onopen={editChannel} />
		{/if}
		<OverlayBar
			{session}
			{show}
			onedit={() => {
				closeSheet();
				overlaysOpen = true;
			}}
		/>
	</div>
	<Notices {session} />
	<KeyHelp bind:open={helpOpen} {keys} />
{:else}
	<p class="grid h-screen place-items-center bg-ink text-lg text-paper" role="status">
		{session.show.gone ? 'There is no such event.' : 'Opening the desk…'}
	</p>
{/if}
