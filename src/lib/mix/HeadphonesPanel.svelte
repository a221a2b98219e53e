<script lang="ts">
	/** What this person hears, on an output of its own. Nobody else hears it. */
	import { Label, Range } from 'flowbite-svelte';
	import { GROUPS } from '../../core/show/mix/mix.ts';
	import type { Hearing } from '../../engine/mix-router.ts';
	import { useDesk } from '../desk/context.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { mix as words } from '../words/index.ts';

	const session = useDesk();
	const show = $derived(session.state);

	const ECHO = words.onlyYouHearFromLoudspeaker;
	const { ears } = $derived(session);
	const subjects = $derived<{ name: string; hearing: Hearing }[]>([
		{ name: words.nothing, hearing: { to: 'nothing' } },
		{ name: words.streamAsViewersGetIt, hearing: { to: 'mix' } },
		...(show.live.guests.length > 0 ? [{ name: words.greenRoom, hearing: { to: 'greenRoom' as const } }] : []),
		...GROUPS.map((group) => ({ name: words.allOf(group), hearing: { to: 'group' as const, group } })),
		...show.setup.channels.map(({ id, name }) => ({ name, hearing: { to: 'channel' as const, channelId: id } })),
	]);
	const at = $derived(
		Math.max(
			0,
			subjects.findIndex(({ hearing }) => ears.hears(hearing)),
		),
	);
</script>

<section class="panel grid gap-1 p-3 text-sm" aria-label={words.headphones}>
	<Label class="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-2">
		<span class="font-semibold" title={ECHO}>{words.iHear}</span>
		<ChoiceField
			look={at > 0 ? 'dark:border-lamp' : ''}
			value={at}
			disabled={!session.engine}
			choices={subjects.map(({ name }, i) => [i, name])}
			onchange={(i) => void ears.hear(subjects[i]!.hearing)}
		/>
	</Label>
	{#if at > 0}
		<div class="grid gap-2">
			<ChoiceField
				label={words.outputHeadphones}
				value={ears.deviceId}
				choices={[['', words.machinesOutput], ...ears.devices.map(({ deviceId, label }) => [deviceId, label] as const)]}
				onchange={(deviceId) => void ears.playOn(deviceId)}
			/>
			<Range
				aria-label={words.levelHeadphones}
				min="0"
				max="1"
				step="0.02"
				value={ears.volume}
				oninput={({ currentTarget }) => ears.setVolume(currentTarget.valueAsNumber)}
			/>
		</div>
		<div class="flex items-center gap-2 text-xs text-gray-300">
			<p class="flex-1" role="status" title={ECHO}>
				{#if ears.checking}{words.checkingWhetherMicrophoneHearsTone}
				{:else if ears.heardBy.length > 0}{words.microphoneHears}
				{:else}{words.onlyYouHearUseHeadphones}{/if}
			</p>
			<Button
				size="xs"
				disabled={ears.checking}
				hint={words.playsShortRisingToneChecks}
				onclick={() => void ears.checkEcho()}>{words.checkEcho}</Button
			>
		</div>
	{/if}
</section>
