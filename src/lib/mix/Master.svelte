<script lang="ts">
	/** The whole mix: how loud it is for viewers, groups, and silence at one press. */
	import { GROUPS } from '../../core/show/mix/mix.ts';
	import { useSession } from '../show/context.ts';
	import { press } from '../ui/press.ts';
	import Fader from './Fader.svelte';
	import LevelBar from './LevelBar.svelte';

	interface Props {
		large?: boolean;
	}
	let { large = false }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);

	const mix = $derived(session.heard?.mix ?? null);
	const lufs = (value: number | undefined) => (value === undefined || value <= -100 ? '–' : value.toFixed(1));
	const { master, groups } = $derived(show.setup.mix);
	let fadeS = $state(5);
	const BOTTOM_DB = -60;
	const isDown = (group: (typeof GROUPS)[number]) => groups[group].gainDb <= BOTTOM_DB;
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
	{#if large}
		<div class="mt-2 grid grid-cols-3 gap-1 text-sm" role="group" aria-label="Timed fades of groups">
			<label class="col-span-3 flex items-center justify-between gap-2">
				Fade a group out or in, in
				<span class="flex items-center gap-1"
					><input type="number" class="figures field w-20" min="0.5" max="60" step="0.5" bind:value={fadeS} /> s</span
				>
			</label>
			{#each GROUPS as group (group)}
				<button
					class="act min-h-11 px-0.5 text-[13px] whitespace-nowrap first-letter:uppercase"
					disabled={!(fadeS > 0 && fadeS <= 60)}
					use:press={() =>
						session.do({
							type: 'setGroupFader',
							group,
							gainDb: isDown(group) ? 0 : BOTTOM_DB,
							fadeMs: fadeS * 1000,
						})}>{group} {isDown(group) ? 'in' : 'out'}</button
				>
			{/each}
		</div>
	{/if}
	<!-- On a page that scrolls it is at hand wherever one is. -->
	<button
		class="act mt-2 min-h-12 text-lg aria-pressed:border-lamp aria-pressed:bg-lamp aria-pressed:text-ink {large
			? 'max-lg:fixed max-lg:inset-x-2 max-lg:bottom-2 max-lg:z-30 max-lg:min-h-14 lg:w-full'
			: 'w-full'}"
		title="Key H: all of the stream silent, and back"
		aria-pressed={show.live.hushed}
		use:press={() => session.do({ type: 'setHush', hushed: !show.live.hushed })}
	>
		{show.live.hushed ? 'HUSHED, press to undo' : 'Hush'}
	</button>
</section>
