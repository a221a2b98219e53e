<script lang="ts">
	/** The whole mix: how loud it is for viewers, groups, and silence at one press. */
	import { Input, Label } from 'flowbite-svelte';
	import { GROUPS } from '../../core/show/mix/mix.ts';
	import ActionButton from '../actions/ActionButton.svelte';
	import { useSession } from '../show/context.ts';
	import { MIX } from '../show/levels.ts';
	import Button from '../ui/Button.svelte';
	import { mix as words } from '../words/index.ts';
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

<section class="panel p-3" aria-label={words.stream}>
	<div class="flex items-baseline justify-between gap-2">
		<h2 class="text-sm font-semibold whitespace-nowrap">{words.stream}</h2>
		<span class="figures text-xs whitespace-nowrap text-gray-300" title={words.loudnessLastThreeSeconds}
			>{words.lufs(lufs(mix?.shortTerm))}</span
		>
	</div>
	<LevelBar of={MIX} heard={mix} label={words.levelStreamMix} scale />
	<Fader
		label={words.wholeMix}
		gainDb={master.gainDb}
		{large}
		onchange={(gainDb) => session.do({ type: 'setMaster', master: { ...master, gainDb } })}
	/>
	{#if !large}<p class="mt-1 text-xs text-gray-300">{words.muteAll}</p>{/if}
	<div class="mt-1 {large ? 'grid gap-1' : 'flex gap-1'}" role="group" aria-label={words.groups}>
		{#each GROUPS as group (group)}
			<div class={large ? 'grid grid-cols-[7.5rem_minmax(0,1fr)] items-center gap-2' : 'min-w-0 flex-1'}>
				<Button
					size={large ? 'touch' : 'xs'}
					class="block w-full truncate first-letter:uppercase {large ? 'px-2 text-sm' : 'px-0.5'}"
					aria-pressed={groups[group].muted}
					aria-label={words.muteGroup(group)}
					hint={words.all(groups[group].muted ? words.muted : words.mute, group)}
					onpress={() => session.do({ type: 'setGroupMute', group, muted: !groups[group].muted })}
					>{large ? (groups[group].muted ? words.groupMuted(group) : words.muteGroup(group)) : group}</Button
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
		<div class="mt-2 grid grid-cols-3 gap-1 text-sm" role="group" aria-label={words.timedFadesGroups}>
			<Label class="col-span-3 flex items-center justify-between gap-2">
				{words.fadeGroupOutOrIn}
				<span class="flex items-center gap-1"
					><Input size="sm" type="number" class="figures w-20!" min="0.5" max="60" step="0.5" bind:value={fadeS} /> s</span
				>
			</Label>
			{#each GROUPS as group (group)}
				<Button
					size="touch"
					class="block px-0.5 text-[13px] first-letter:uppercase"
					disabled={!(fadeS > 0 && fadeS <= 60)}
					onpress={() =>
						session.do({
							type: 'setGroupFader',
							group,
							gainDb: isDown(group) ? 0 : BOTTOM_DB,
							fadeMs: fadeS * 1000,
						})}>{isDown(group) ? words.fadeGroupIn(group) : words.fadeGroupOut(group)}</Button
				>
			{/each}
		</div>
	{/if}
	<!-- On a page that scrolls it is at hand wherever one is. -->
	<ActionButton
		action="hush"
		class="mt-2 min-h-12 text-lg {large
			? 'max-lg:fixed max-lg:inset-x-2 max-lg:bottom-2 max-lg:z-30 max-lg:min-h-14 lg:w-full'
			: 'w-full'}"
	/>
</section>
