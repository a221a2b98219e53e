<script lang="ts">
	/** A macro and its steps. */
	import { Toggle } from 'flowbite-svelte';
	import { isClip } from '../../core/show/clips/source.ts';
	import { MOST_STEPS, type Macro, type MacroStep } from '../../core/show/macros/macro.ts';
	import { missingSteps } from '../../core/show/macros/run.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesAmong, choicesOf } from '../ui/choices.ts';
	import NameField from '../ui/NameField.svelte';
	import NumberField from '../ui/NumberField.svelte';
	import TimeField from '../ui/TimeField.svelte';
	import Warning from '../ui/Warning.svelte';
	import { panelEditor as words } from '../words/index.ts';
	import OrderFields from './OrderFields.svelte';
	import RunningMacros from './RunningMacros.svelte';

	interface Props {
		macro: Macro;
		onchange: (macro: Macro) => void;
		onremove: () => void;
	}
	let { macro, onchange, onremove }: Props = $props();
	const session = useSession();
	const clips = $derived(session.state.setup.sources.filter(isClip));
	const missing = $derived(missingSteps(session.state, macro));

	const change = (part: Partial<Macro>) => onchange({ ...macro, ...part });
	const setStep = (at: number, step: MacroStep) => change({ steps: macro.steps.with(at, step) });
	const add = (step: MacroStep) => change({ steps: [...macro.steps, step] });
	const move = (from: number, to: number) =>
		change({ steps: macro.steps.toSpliced(from, 1).toSpliced(to, 0, macro.steps[from]!) });
	const NOT_HERE = ['macro', 'speak'] as const;
</script>

<section class="grid content-start gap-3" aria-label={macro.name}>
	<div class="flex flex-wrap items-center gap-2">
		<NameField label={words.name} value={macro.name} onchange={(name) => change({ name })} class="flex-1" />
		<Button onpress={() => session.do({ type: 'runMacro', macroId: macro.id })}>{words.run}</Button>
		<Button onclick={onremove}>{words.remove}</Button>
	</div>
	<RunningMacros />
	<Toggle checked={macro.asks} onchange={({ currentTarget }) => change({ asks: currentTarget.checked })}
		>{words.asks}</Toggle
	>
	<div class="flex items-center gap-2">
		<span class="text-sm font-semibold">{words.again}</span>
		<ChoiceField
			label={words.again}
			value={macro.again}
			choices={choicesOf(words.agains)}
			onchange={(again) => change({ again })}
		/>
	</div>
	<h3 class="font-semibold">{words.steps}</h3>
	<ol class="grid gap-2">
		{#each macro.steps as step, at (at)}
			<li class="grid grid-cols-[minmax(0,1fr)_auto] gap-2 rounded-sm border border-gray-300 p-2" data-step={at}>
				<div class="grid gap-1">
					{#if step.is === 'order'}
						<OrderFields
							label={words.step(at + 1)}
							order={step.order}
							without={NOT_HERE}
							onchange={(order) => order && setStep(at, { is: 'order', order })}
						/>
					{:else if step.is === 'pause'}
						<NumberField
							label={words.pause}
							min={0.1}
							max={3600}
							step={0.5}
							unit={words.seconds}
							value={step.ms / 1000}
							onchange={(value) => setStep(at, { is: 'pause', ms: Math.round(value * 1000) })}
						/>
					{:else if step.is === 'clip'}
						<span class="text-sm font-semibold">{words.untilClip}</span>
						<ChoiceField
							label={words.untilClip}
							value={step.sourceId}
							choices={choicesAmong(clips)}
							onchange={(sourceId) => setStep(at, { is: 'clip', sourceId })}
						/>
					{:else}
						<TimeField
							label={words.untilTime}
							value={step.time}
							onchange={(time) => setStep(at, { is: 'clock', time })}
						/>
					{/if}
					{#if missing.includes(at)}<Warning>{words.stepGone}</Warning>{/if}
				</div>
				<div class="grid content-start gap-1">
					<Button size="xs" disabled={at === 0} onclick={() => move(at, at - 1)}>{words.earlier}</Button>
					<Button size="xs" disabled={at === macro.steps.length - 1} onclick={() => move(at, at + 1)}
						>{words.later}</Button
					>
					<Button size="xs" onclick={() => change({ steps: macro.steps.toSpliced(at, 1) })}>{words.remove}</Button>
				</div>
			</li>
		{:else}
			<li class="text-gray-600">{words.noSteps}</li>
		{/each}
	</ol>
	{#if macro.steps.length < MOST_STEPS}
		<div class="flex flex-wrap gap-2">
			<Button onclick={() => add({ is: 'order', order: { action: 'take' } })}>{words.addOrder}</Button>
			<Button onclick={() => add({ is: 'pause', ms: 2000 })}>{words.addPause}</Button>
			<Button disabled={clips.length === 0} onclick={() => add({ is: 'clip', sourceId: clips[0]!.id })}
				>{words.addClip}</Button
			>
			<Button onclick={() => add({ is: 'clock', time: '' })}>{words.addClock}</Button>
		</div>
	{/if}
</section>
