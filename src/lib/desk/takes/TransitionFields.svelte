<script lang="ts">
	/** How one scene becomes the other. */
	import { ButtonGroup, Checkbox, Input, Label } from 'flowbite-svelte';
	import { DIRECTIONS, TRANSITION_KINDS, type Transition } from '../../../core/show/scenes/scene.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { takes as words } from '../../words/index.ts';

	interface Props {
		transition: Transition;
		onchange: (transition: Transition) => void;
	}
	let { transition, onchange }: Props = $props();

	const KIND_NAMES: Record<Transition['kind'], string> = {
		cut: words.cut,
		fade: words.fade,
		wipe: words.wipe,
		slide: words.slide,
		dip: words.dip,
		glide: words.glide,
	};
	const HINTS: Record<Transition['kind'], string> = {
		cut: words.atOnce,
		fade: words.onePictureMeltsIntoOther,
		wipe: words.edgeUncoversOtherPicture,
		slide: words.onePicturePushesOtherOut,
		dip: words.throughColour,
		glide: words.whatInBothScenesMoves,
	};
	const WAY_NAMES: Record<Transition['direction'], string> = {
		left: words.left,
		right: words.right,
		up: words.upwards,
		down: words.downwards,
		downRight: words.lowerRight,
		downLeft: words.lowerLeft,
		circle: words.fromCircle,
		box: words.fromBox,
	};
	const ways = $derived(transition.kind === 'slide' ? DIRECTIONS.slice(0, 4) : DIRECTIONS);

	function setDuration(event: Event & { currentTarget: HTMLInputElement }) {
		const durationMs = Math.round(Math.min(10_000, Math.max(0, event.currentTarget.valueAsNumber || 0)));
		event.currentTarget.value = String(durationMs);
		onchange({ ...transition, durationMs });
	}
</script>

<div class="flex flex-wrap items-center gap-1" role="group" aria-label={words.transition}>
	<ButtonGroup>
		{#each TRANSITION_KINDS as kind (kind)}
			<Button
				size="sm"
				class="px-1.5"
				lit="edge"
				aria-pressed={transition.kind === kind}
				hint={HINTS[kind]}
				onpress={() => onchange({ ...transition, kind })}
			>
				{transition.kind === kind ? '✓ ' : ''}{KIND_NAMES[kind]}
			</Button>
		{/each}
	</ButtonGroup>
	<Label class="flex items-center gap-1 text-sm">
		<Input
			size="sm"
			type="number"
			class="figures w-16!"
			aria-label={words.lengthTransition}
			min="0"
			max="10000"
			step="100"
			value={transition.durationMs}
			disabled={transition.kind === 'cut'}
			onchange={setDuration}
		/>
		{words.ms}
	</Label>
	{#if transition.kind === 'wipe' || transition.kind === 'slide'}
		<ChoiceField
			label={words.direction}
			value={ways.includes(transition.direction) ? transition.direction : 'left'}
			choices={ways.map((way) => [way, WAY_NAMES[way]])}
			onchange={(direction) => onchange({ ...transition, direction })}
		/>
	{:else if transition.kind === 'dip'}
		<Input
			size="sm"
			type="color"
			class="h-8 w-12! shrink-0 p-1"
			aria-label={words.colourBetweenScenes}
			value={transition.colour}
			onchange={({ currentTarget }) => onchange({ ...transition, colour: currentTarget.value })}
		/>
	{/if}
	{#if transition.kind !== 'cut'}
		<Checkbox
			classes={{ div: 'gap-1 text-xs' }}
			checked={transition.curve === 'eased'}
			onchange={() => onchange({ ...transition, curve: transition.curve === 'even' ? 'eased' : 'even' })}
			>{words.easeInOut}</Checkbox
		>
	{/if}
</div>
