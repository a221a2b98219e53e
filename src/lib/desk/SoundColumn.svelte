<script lang="ts">
	import { onMount } from 'svelte';
	import { SvelteMap } from 'svelte/reactivity';
	import { PeakMeter } from '../../core/sound/meter.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import { MAX_CHANNELS } from '../../engine/shared.ts';
	import { press } from '../ui/press.ts';
	import LevelBar from './LevelBar.svelte';
	import type { DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
	}
	let { session, show }: Props = $props();

	interface Reading {
		levelDb: number;
		holdDb: number;
	}
	const READ_EVERY_MS = 50;

	/** Two readings by channel id; the mix is under its own name. */
	const readings = new SvelteMap<string, [Reading, Reading]>();
	// Not reactive on purpose: only the readings taken from it are shown.
	// eslint-disable-next-line svelte/prefer-svelte-reactivity
	const meters = new Map<string, [PeakMeter, PeakMeter]>();
	const SILENCE: [Reading, Reading] = [
		{ levelDb: -Infinity, holdDb: -Infinity },
		{ levelDb: -Infinity, holdDb: -Infinity },
	];

	onMount(() => {
		const peaks = new Float32Array((MAX_CHANNELS + 1) * 2);
		let readAt = performance.now();
		const timer = setInterval(() => {
			const { engine } = session;
			if (!engine) return;
			engine.takeLevels(peaks);
			const now = performance.now();
			const elapsedS = (now - readAt) / 1000;
			readAt = now;
			const read = (id: string, at: number | null) => {
				const pair = meters.get(id) ?? [new PeakMeter(), new PeakMeter()];
				meters.set(id, pair);
				pair.forEach((meter, side) => meter.read(at === null ? 0 : peaks[at + side]!, elapsedS));
				readings.set(id, pair.map(({ levelDb, holdDb }) => ({ levelDb, holdDb })) as [Reading, Reading]);
			};
			for (const { id, sourceId } of show.channels) {
				const input = engine.inputOf(sourceId);
				read(id, input === null ? null : 2 * input);
			}
			read('mix', 2 * MAX_CHANNELS);
		}, READ_EVERY_MS);
		return () => clearInterval(timer);
	});

	const dbText = (gainDb: number) => (gainDb <= -60 ? 'silent' : `${gainDb > 0 ? '+' : ''}${gainDb.toFixed(1)} dB`);
</script>

<aside class="flex min-h-0 flex-col gap-2 p-2" aria-label="Stream mix">
	<section class="panel flex min-h-0 flex-1 flex-col overflow-y-auto">
		<h2 class="panel-title">Stream mix</h2>
		{#each show.channels as channel (channel.id)}
			<div class="border-t border-slate-rule px-3 py-2" data-channel={channel.id}>
				<div class="flex items-center justify-between gap-2">
					<span class="truncate font-semibold">{channel.name}</span>
					<button
						class="act px-2 py-0.5 text-sm aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink"
						aria-pressed={channel.muted}
						use:press={() => session.do({ type: 'setMute', channelId: channel.id, muted: !channel.muted })}
					>
						{channel.muted ? 'Muted' : 'Mute'}
					</button>
				</div>
				<LevelBar readings={readings.get(channel.id) ?? SILENCE} label="Level of {channel.name}" />
				<input
					type="range"
					class="w-full accent-lamp"
					min="-60"
					max="12"
					step="0.5"
					value={channel.gainDb}
					aria-label="Fader of {channel.name}"
					aria-valuetext={dbText(channel.gainDb)}
					oninput={({ currentTarget }) =>
						session.do({ type: 'setFader', channelId: channel.id, gainDb: currentTarget.valueAsNumber })}
					ondblclick={() => session.do({ type: 'setFader', channelId: channel.id, gainDb: 0 })}
				/>
				<p class="figures text-xs text-gray-300">{dbText(channel.gainDb)}</p>
			</div>
		{:else}
			<p class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">
				No sound yet. Add the console or a microphone on the left.
			</p>
		{/each}
	</section>
	<section class="panel p-3">
		<div class="flex justify-between">
			<h2 class="font-semibold">To the stream</h2>
			<span class="figures text-sm text-gray-300">dB</span>
		</div>
		<LevelBar readings={readings.get('mix') ?? SILENCE} label="Level of the stream mix" scale />
		<button
			class="act mt-3 min-h-12 w-full text-lg aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink"
			aria-pressed={show.hushed}
			use:press={() => session.do({ type: 'setHush', hushed: !show.hushed })}
		>
			{show.hushed ? 'HUSHED, press to undo' : 'Hush'}
		</button>
	</section>
</aside>
