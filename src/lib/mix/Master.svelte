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
</script>

<section class="panel p-3" aria-label="To the stream">
	<div class="flex items-baseline justify-between gap-2">
		<h2 class="text-sm font-semibold whitespace-nowrap">To the stream</h2>
		<span class="figures text-xs whitespace-nowrap text-gray-300" title="Loudness of the last three seconds"
			>{lufs(mix?.shortTerm)} LUFS</span
		>
	</div>
	<LevelBar heard={mix} label="Level of the stream mix" scale />
	<Fader
		label="the whole mix"
		gainDb={master.gainDb}
		{large}
		onchange={(gainDb) => session.do({ type: 'setMaster', master: { ...master, gainDb } })}
	/>
	{#if !large}<p class="mt-1 text-xs text-gray-300">Mute all</p>{/if}
	<div class="mt-1 {large ? 'grid gap-1' : 'flex gap-1'}" role="group" aria-label="Groups">
		{#each GROUPS as group (group)}
			<div class={large ? 'grid grid-cols-[7.5rem_minmax(0,1fr)] items-center gap-2' : 'min-w-0 flex-1'}>
				<button
					class="act w-full truncate first-letter:uppercase aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink {large
						? 'min-h-11 px-2 text-sm'
						: 'px-0.5 py-1 text-xs'}"
					aria-pressed={groups[group].muted}
					aria-label="Mute {group}"
					title="{groups[group].muted ? 'Muted' : 'Mute'}: all {group}"
					use:press={() => session.do({ type: 'setGroupMute', group, muted: !groups[group].muted })}
					>{large ? (groups[group].muted ? `${group} muted` : `Mute ${group}`) : group}</button
				>
				{#if large}
					<Fader
						label={group}
						gainDb={groups[group].gainDb}
						large
						onchange={(gainDb) => session.do({ type: 'setGroupFader', group, gainDb })}
					/>
				{/if}
			</div>
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
