<script lang="ts">
	import { format } from 'date-fns';
	import { QuestionCircleOutline } from 'flowbite-svelte-icons';
	import type { DestinationStatus } from '../../core/show/messages.ts';
	import { endsAt } from '../../core/show/state.ts';
	import ActionButton from '../actions/ActionButton.svelte';
	import { useNow } from '../show/now.svelte.ts';
	import Button from '../ui/Button.svelte';
	import EventNav from '../ui/EventNav.svelte';
	import { bytesOf, clockOf, rateOf } from '../words/index.ts';
	import { desk as words } from '../words/index.ts';
	import { useDesk } from './context.ts';
	import BroadcastDialog from './delivery/BroadcastDialog.svelte';
	import { phaseWord } from './delivery/phases.ts';

	interface Props {
		/** Opens the destinations. */
		onhosts: () => void;
		/** True while it is asked whether to go on air. */
		dialogOpen: boolean;
	}
	let { onhosts, dialogOpen = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const clock = useNow(session.show);
	/** What changes once a second only is made once a second. */
	const second = $derived(Math.floor(clock.now / 1000));

	const onAir = $derived(session.isOnAir);
	const sinceS = $derived(onAir ? (clock.now - show.live.broadcast!.startedAt) / 1000 : 0);
	const endsInS = $derived.by(() => {
		const at = endsAt(show);
		return at === null ? null : Math.max(0, (at - clock.now) / 1000);
	});
	const statuses = $derived(session.show.status?.destinations ?? []);
	const lights = $derived(
		show.setup.destinations
			.filter(({ ticked }) => ticked)
			.map(({ id, name }) => ({ id, name, status: statuses.find((status) => status.id === id) })),
	);
	const recording = $derived(session.show.status?.recording);

	const apartGoing = $derived(recording?.tracks.filter(({ phase }) => phase === 'recording').length ?? 0);

	const shapeOf = (status: DestinationStatus | undefined) =>
		status?.phase === 'live'
			? '●'
			: status?.phase === 'connecting'
				? '◐'
				: status && status.phase !== 'off'
					? '▲'
					: '○';
</script>

<header class="flex h-14 items-stretch gap-3 border-b border-slate-rule bg-slate-panel pr-2">
	<div class="flex flex-col justify-center px-3">
		<a href="/" class="block min-h-6 max-w-72 truncate text-lg leading-6 font-bold hover:text-lamp" title={words.events}
			>{show.setup.title}</a
		>
		<EventNav eventId={session.eventId} here="desk" beside={onAir} />
	</div>

	{#if onAir}
		<p
			class="flex items-center gap-3 px-4 {session.isRehearsing
				? 'border-4 border-dashed border-ink bg-paper text-ink'
				: session.isSent
					? 'bg-air text-white'
					: 'bg-gray-700 text-white'}"
			role="status"
		>
			<span class="text-lg font-bold"
				>{session.isRehearsing ? words.rehearsal : session.isSent ? words.onAirMark : words.onlyRecorded}</span
			>
			<span class="figures text-xl font-semibold">{clockOf(sinceS)}</span>
		</p>
		{#if endsInS !== null}
			<p class="flex items-center gap-2 text-sm" role="timer" aria-label={words.endsByItself}>
				<span class="figures font-semibold">{words.endsIn(clockOf(endsInS))}</span>
				<Button size="sm" onclick={() => session.do({ type: 'planEnd', inMs: null, sceneId: null })}
					>{words.stayOnAir}</Button
				>
			</p>
		{/if}
	{:else}
		<p class="flex items-center border-x border-slate-rule px-4 text-lg font-bold text-gray-300" role="status">
			{words.offAir}
		</p>
	{/if}

	<a
		class="flex flex-col justify-center px-1 text-sm hover:bg-gray-700"
		href="/events/{session.eventId}/recordings"
		target="_blank"
		title={words.recordings}
	>
		{#if recording?.phase === 'recording'}
			<span class="font-semibold">{words.recording}</span>
			<span class="figures text-xs text-gray-300"
				>{bytesOf(recording.bytes)}{apartGoing > 0 ? words.separate(apartGoing) : ''}</span
			>
		{:else if recording?.phase === 'failed'}
			<span class="font-bold text-lamp">{words.notRecording}</span>
		{:else if !show.setup.delivery.records}
			<span class="bg-air px-1 font-bold text-white">{words.notRecorded}</span>
			<span class="text-xs text-gray-300">{words.switchedOff}</span>
		{:else}
			<span class="text-gray-300">{words.recordsByItself}</span>
			<span class="text-xs text-gray-300">{words.whileOnAir}</span>
		{/if}
	</a>

	<ul class="flex min-w-0 flex-1 items-center gap-2 overflow-hidden" aria-label={words.destinations}>
		{#each lights as { id, name, status } (id)}
			<li class="min-w-0 border-l border-slate-rule pl-3 text-sm" data-light={id}>
				<Button look="bare" class="block max-w-full" hint={words.openDestinations} onclick={onhosts}>
					<span class="block truncate font-semibold">
						<span aria-hidden="true" class={status?.phase === 'live' ? 'text-paper' : 'text-lamp'}
							>{shapeOf(status)}</span
						>
						{name}
					</span>
					<span class="figures block truncate text-xs text-gray-300">
						{#if status?.phase === 'live'}{words.lost(rateOf(status.rateKbps), status.lostFrames)}
						{:else}{phaseWord(status, onAir)}{/if}
					</span>
				</Button>
			</li>
		{:else}
			<li class="text-sm text-gray-300">{words.noDestinationTicked}</li>
		{/each}
	</ul>

	<p class="figures flex items-center text-2xl font-semibold" aria-label={words.timeDay}>
		{format(1000 * second, 'HH:mm:ss')}
	</p>
	<ActionButton action="keys" look="icon" class="self-center text-gray-300">
		<QuestionCircleOutline class="size-6" />
	</ActionButton>
	<Button look={onAir ? 'plain' : 'main'} class="my-2" onclick={() => (dialogOpen = true)}>
		{onAir ? words.end[session.underWay] : words.goOnAir}
	</Button>
</header>

<BroadcastDialog bind:open={dialogOpen} />
