<script lang="ts">
	/** The whole mix: how loud it is for viewers, groups, and silence at one press. */
	import { GROUPS } from '../../core/show/mix.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import type { DeskSession } from '../desk/session.svelte.ts';
	import { press } from '../ui/press.ts';
	import Fader from './Fader.svelte';
	import LevelBar from './LevelBar.svelte';

	interface Props {
		session: DeskSession;
		show: ShowState;
		large?: boolean;
	}
	let { session, show, large = false }: Props = $props();

	const mix = $derived(session.heard?.mix ?? null);
	const lufs = (value: number | undefined) => (value === undefined || value <= -100 ? '–' : value.toFixed(1));
	const { master, groups } = $derived(show.mix);
	const small = $derived(large ? 'min-h-11 px-3' : 'px-2 py-0.5 text-xs');
</script>

<section class="panel p-3" aria-label="To the stream">
	<div class="flex items-baseline justify-between">
		<h2 class="font-semibold">To the stream</h2>
		<span class="figures text-xs text-gray-300" title="Loudness of the last three seconds, and of all so far"
			>{lufs(mix?.shortTerm)} · all {lufs(mix?.integrated)} LUFS</span
		>
	</div>
	<LevelBar heard={mix} label="Level of the stream mix" scale />
	<Fader
		label="the whole mix"
		gainDb={master.gainDb}
		{large}
		onchange={(gainDb) => session.do({ type: 'setMaster', master: { ...master, gainDb } })}
	/>
	<div class="mt-1 grid gap-1" role="group" aria-label="Groups">
		{#each GROUPS as group (group)}
			<div class="flex items-center gap-1 text-sm">
				<button
					class="act w-full capitalize aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink {small}"
					aria-pressed={groups[group].muted}
					use:press={() => session.do({ type: 'setGroupMute', group, muted: !groups[group].muted })}
					>{groups[group].muted ? `${group} muted` : `Mute ${group}`}</button
				>
			</div>
			{#if large}
				<Fader
					label={group}
					gainDb={groups[group].gainDb}
					large
					onchange={(gainDb) => session.do({ type: 'setGroupFader', group, gainDb })}
				/>
			{/if}
		{/each}
	</div>
	<button
		class="act mt-2 min-h-12 w-full text-lg aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink"
		aria-pressed={show.hushed}
		use:press={() => session.do({ type: 'setHush', hushed: !show.hushed })}
	>
		{show.hushed ? 'HUSHED, press to undo' : 'Hush'}
	</button>
</section>
