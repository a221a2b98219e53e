<script lang="ts">
	/** Which camera and microphone, and where others are heard. */
	import { Label } from 'flowbite-svelte';
	import type { DeviceKind } from '../../engine/guests/own-devices.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import Warning from '../ui/Warning.svelte';
	import { guest as words, pictureAdviceWords, voiceAdviceWords } from '../words/index.ts';
	import { useGuest } from './context.ts';
	import Level from './Level.svelte';

	const session = useGuest();
	const KINDS = ['camera', 'microphone'] as const;
	const LOOK = 'min-h-11 text-base';

	const here = /firefox/i.test(navigator.userAgent)
		? 'firefox'
		: /safari/i.test(navigator.userAgent) && !/chrom/i.test(navigator.userAgent)
			? 'safari'
			: 'chromium';
	/** What to press is said once: with the last of them. */
	const refused = $derived(KINDS.findLast((kind) => session.problems[kind] === 'refused'));
	const idOf = (kind: DeviceKind) => session[kind]?.getSettings().deviceId ?? '';
</script>

{#each KINDS as kind (kind)}
	{@const problem = session.problems[kind]}
	<div class="grid gap-1">
		<Label>
			{words[kind]}
			<ChoiceField
				class="mt-1"
				look={LOOK}
				value={idOf(kind)}
				disabled={session.offered[kind].length === 0}
				choices={session.offered[kind].map(({ deviceId, label }) => [deviceId, label] as const)}
				onchange={(deviceId) => void session.choose(kind, deviceId)}
			/>
		</Label>
		{#if problem}
			<Warning urgent>
				{words.problem[kind][problem]}
				{#if problem === 'refused' && kind === refused}{words.allow[here]}{/if}
			</Warning>
		{/if}
		{#if kind === 'camera' && session.check.pictureAdvice}
			<Warning>{pictureAdviceWords(session.check.pictureAdvice)}</Warning>
		{:else if kind === 'microphone' && !problem}
			<Level levelDb={session.check.levelDb} label={words.level} />
			<p class="text-sm" role="status">
				{session.check.voiceAdvice ? voiceAdviceWords(session.check.voiceAdvice) : words.speakNow}
			</p>
		{/if}
	</div>
{/each}
{#if session.problems.camera || session.problems.microphone}
	<Button size="touch" class="justify-self-start" onclick={() => void session.prepare()}>{words.tryAgain}</Button>
{/if}
<div class="grid gap-1">
	{#if session.outputs.length > 0}
		<Label>
			{words.listenWith}
			<ChoiceField
				class="mt-1"
				look={LOOK}
				value={session.outputId}
				choices={[
					['', words.systemOutput],
					...session.outputs.map(({ deviceId, label }) => [deviceId, label] as const),
				]}
				onchange={(deviceId) => session.chooseOutput(deviceId)}
			/>
		</Label>
	{/if}
	<div class="flex flex-wrap items-center gap-2">
		<Button
			size="touch"
			disabled={session.check.echo === 'measuring' || !session.microphone}
			onclick={() => void session.check.checkEcho(session.outputId)}>{words.checkSound}</Button
		>
		<p class="min-w-40 flex-1 text-sm" role="status">
			{#if session.check.echo === 'measuring'}{words.soundMeasuring}
			{:else if session.check.echo === 'heard'}<strong>▲ {words.soundHeard}</strong>
			{:else if session.check.echo === 'quiet'}{words.soundQuiet}
			{:else}{words.soundHint}{/if}
		</p>
	</div>
</div>
