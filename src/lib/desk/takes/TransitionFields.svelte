<script lang="ts">
	/** How one scene becomes the other. */
	import { ButtonGroup, Checkbox, Input, Label, Select } from 'flowbite-svelte';
	import Button from '../../ui/Button.svelte';
	import { DIRECTIONS, TRANSITION_KINDS, type Transition } from '../../../core/show/scenes/scene.ts';

	interface Props {
		transition: Transition;
		onchange: (transition: Transition) => void;
	}
	let { transition, onchange }: Props = $props();

	const KIND_NAMES: Record<Transition['kind'], string> = {
		cut: 'Cut',
		fade: 'Fade',
		wipe: 'Wipe',
		slide: 'Slide',
		dip: 'Dip',
		glide: 'Glide',
	};
	const HINTS: Record<Transition['kind'], string> = {
		cut: 'At once',
		fade: 'One picture melts into the other',
		wipe: 'An edge uncovers the other picture',
		slide: 'One picture pushes the other out',
		dip: 'Through a colour',
		glide: 'What is in both scenes moves to its new place',
	};
	const WAY_NAMES: Record<Transition['direction'], string> = {
		left: 'to the left',
		right: 'to the right',
		up: 'upwards',
		down: 'downwards',
		downRight: 'to the lower right',
		downLeft: 'to the lower left',
		circle: 'from a circle',
		box: 'from a box',
	};
	const ways = $derived(transition.kind === 'slide' ? DIRECTIONS.slice(0, 4) : DIRECTIONS);

	function setDuration(event: Event & { currentTarget: HTMLInputElement }) {
		const durationMs = Math.round(Math.min(10_000, Math.max(0, event.currentTarget.valueAsNumber || 0)));
		event.currentTarget.value = String(durationMs);
		onchange({ ...transition, durationMs });
	}
</script>

<div class="flex flex-wrap items-center gap-1" role="group" aria-label="Transition">
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
			class="figures w-16"
			aria-label="Length of the transition"
			min="0"
			max="10000"
			step="100"
			value={transition.durationMs}
			disabled={transition.kind === 'cut'}
			onchange={setDuration}
		/>
		ms
	</Label>
	{#if transition.kind === 'wipe' || transition.kind === 'slide'}
		<Select
			size="sm"
			placeholder=""
			aria-label="Direction"
			value={ways.includes(transition.direction) ? transition.direction : 'left'}
			onchange={({ currentTarget }) =>
				onchange({ ...transition, direction: currentTarget.value as Transition['direction'] })}
		>
			{#each ways as way (way)}<option value={way}>{WAY_NAMES[way]}</option>{/each}
		</Select>
	{:else if transition.kind === 'dip'}
		<Input
			size="sm"
			type="color"
			class="h-8 w-12 p-1"
			aria-label="Colour between the scenes"
			value={transition.colour}
			onchange={({ currentTarget }) => onchange({ ...transition, colour: currentTarget.value })}
		/>
	{/if}
	{#if transition.kind !== 'cut'}
		<Checkbox
			classes={{ div: 'gap-1 text-xs' }}
			checked={transition.curve === 'eased'}
			onchange={() => onchange({ ...transition, curve: transition.curve === 'even' ? 'eased' : 'even' })}
			>Ease in and out</Checkbox
		>
	{/if}
</div>
