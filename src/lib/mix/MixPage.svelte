<script lang="ts">
	/** The stream mix alone, for a second person with a tablet. What one moves, the other sees move. */
	import { Label } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import { isOnAir } from '../../core/show/state.ts';
	import { provideActions, waitedMs } from '../actions/context.ts';
	import { Keys } from '../actions/keys.svelte.ts';
	import { provideSession } from '../show/context.ts';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import Troubles from '../troubles/Troubles.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { beDark } from '../ui/dark.ts';
	import EventNav from '../ui/EventNav.svelte';
	import SliderField from '../ui/SliderField.svelte';
	import Warning from '../ui/Warning.svelte';
	import { mix as words } from '../words/index.ts';
	import AddChannel from './AddChannel.svelte';
	import ChannelLine from './ChannelLine.svelte';
	import ChannelSheet from './ChannelSheet.svelte';
	import CompressorFields from './CompressorFields.svelte';
	import type { LoudnessPoint } from './loudness-curve.ts';
	import LoudnessChart from './LoudnessChart.svelte';
	import Master from './Master.svelte';
	import Snapshots from './Snapshots.svelte';

	interface Props {
		eventId: string;
		/** How loud the broadcast that is on air has been so far. */
		loudness: readonly LoudnessPoint[];
	}
	let { eventId, loudness }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const show = $derived(session.show.state);
	const mix = $derived(session.heard?.mix ?? null);
	let chosen = $state<string | null>(null);
	const channel = $derived(show?.setup.channels.find(({ id }) => id === chosen) ?? null);
	const figure = (value: number | undefined) => (value === undefined || value <= -100 ? '–' : value.toFixed(1));
	const TARGETS = [-14, -16, -18, -23];

	const { keys, run } = provideActions({
		keys: new Keys(),
		run(action, event) {
			if (show) action.run({ session, show, waitedMs: waitedMs(event), openHelp: () => {} });
		},
	});

	onMount(beDark);
	onMount(() => {
		// The one key that acts wherever somebody mixes.
		const endKey = keys.listen(window, run, ['hush']);
		return () => {
			endKey();
			session.close();
		};
	});
</script>

{#if show}
	{@const { ducking, master } = show.setup.mix}
	<div class="grid min-h-screen grid-rows-[auto_auto_minmax(0,1fr)] bg-ink text-paper max-lg:pb-20 lg:h-screen">
		<header class="flex flex-wrap items-center gap-4 border-b border-slate-rule bg-slate-panel px-3 py-2">
			<div class="min-w-0">
				<h1 class="truncate text-lg font-bold">{words.streamMixOf(show.setup.title)}</h1>
				<EventNav {eventId} here="mix" />
			</div>
			<p
				class="rounded-sm px-3 py-1 font-bold {session.isRehearsing
					? 'border-2 border-dashed border-ink bg-paper text-ink'
					: isOnAir(show)
						? 'bg-air text-white'
						: 'bg-gray-700'}"
			>
				{session.isRehearsing ? words.rehearsal : isOnAir(show) ? words.onAir : words.offAir}
			</p>
			{#if !session.show.status?.engine}<Warning class="text-sm">{words.noDeskOpenThereNo}</Warning>{/if}
		</header>
		<Troubles onlySound />
		<div class="grid min-h-0 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_19rem_19rem]">
			<section
				class="panel m-2 grid min-h-0 auto-rows-min grid-cols-1 overflow-y-auto sm:grid-cols-2"
				aria-label={words.channels}
			>
				{#each show.setup.channels as each (each.id)}
					<ChannelLine channel={each} large chosen={each.id === chosen} onopen={(id) => (chosen = id)} />
				{:else}
					<p class="p-4 text-gray-300">{words.noChannelYetAddOne}</p>
				{/each}
				<AddChannel onadded={(id) => (chosen = id)} />
			</section>
			<div class="flex min-h-0 flex-col gap-2 overflow-y-auto py-2 max-lg:px-2">
				<Master large />
				<section class="panel grid min-w-0 grid-cols-1 gap-1 p-3" aria-label={words.loudness}>
					<h2 class="font-semibold">{words.loudness}</h2>
					<dl class="figures grid grid-cols-2 text-xs">
						<dt>{words.now}</dt>
						<dd class="text-right">{words.lufs(figure(mix?.momentary))}</dd>
						<dt>{words.n3Seconds}</dt>
						<dd class="text-right">{words.lufs(figure(mix?.shortTerm))}</dd>
						<dt>{words.sinceStart}</dt>
						<dd class="text-right">{words.lufs(figure(mix?.integrated))}</dd>
						<dt>{words.range}</dt>
						<dd class="text-right">{words.lu(mix ? mix.range.toFixed(1) : '–')}</dd>
						<dt>{words.highest}</dt>
						<dd class="text-right">{words.dbtp(figure(mix?.truePeakDb))}</dd>
					</dl>
					<LoudnessChart known={loudness} targetLufs={master.targetLufs} />
					<Label class="flex items-center justify-between text-sm">
						{words.target}
						<ChoiceField
							class="w-32"
							value={master.targetLufs}
							choices={TARGETS.map((target) => [target, words.lufs(target)])}
							onchange={(targetLufs) => session.do({ type: 'setMaster', master: { ...master, targetLufs } })}
						/>
					</Label>
				</section>
				<section class="panel grid gap-1 p-3 text-sm" aria-label={words.dipUnderSpeech}>
					<h2 class="text-base font-semibold">{words.musicDipsUnderSpeech}</h2>
					<SliderField
						label={words.by}
						min={0}
						max={40}
						step={1}
						value={ducking.depthDb}
						text={words.db(ducking.depthDb)}
						onchange={(depthDb) => session.do({ type: 'setDucking', ducking: { ...ducking, depthDb } })}
					/>
					<SliderField
						label={words.whenSpeechAbove}
						min={-60}
						max={0}
						step={1}
						value={ducking.thresholdDb}
						text={words.db(ducking.thresholdDb)}
						onchange={(thresholdDb) => session.do({ type: 'setDucking', ducking: { ...ducking, thresholdDb } })}
					/>
					<SliderField
						label={words.dipsWithin}
						min={5}
						max={1000}
						step={5}
						value={ducking.attackMs}
						text={words.ms(ducking.attackMs)}
						onchange={(attackMs) => session.do({ type: 'setDucking', ducking: { ...ducking, attackMs } })}
					/>
					<SliderField
						label={words.comesBackIn}
						min={50}
						max={5000}
						step={50}
						value={ducking.releaseMs}
						text="{(ducking.releaseMs / 1000).toFixed(1)} s"
						onchange={(releaseMs) => session.do({ type: 'setDucking', ducking: { ...ducking, releaseMs } })}
					/>
				</section>
				<section class="panel grid gap-1 p-3 text-sm" aria-label={words.overWholeMix}>
					<h2 class="text-base font-semibold">{words.overWholeMix}</h2>
					<CompressorFields
						compressor={master.compressor}
						nowDb={null}
						onchange={(compressor) => session.do({ type: 'setMaster', master: { ...master, compressor } })}
					/>
					<SliderField
						label={words.neverLouderThan}
						min={-12}
						max={0}
						step={0.5}
						neutral={-1}
						value={master.ceilingDb}
						text={words.dbtp(master.ceilingDb.toFixed(1))}
						onchange={(ceilingDb) => session.do({ type: 'setMaster', master: { ...master, ceilingDb } })}
					/>
				</section>
			</div>
			{#if channel}
				<ChannelSheet {channel} onclose={() => (chosen = null)} />
			{:else}
				<div class="min-h-0 overflow-y-auto p-2"><Snapshots /></div>
			{/if}
		</div>
	</div>
	<Notices />
{:else}
	<Opening what={words.mix} gone={session.show.gone} />
{/if}
