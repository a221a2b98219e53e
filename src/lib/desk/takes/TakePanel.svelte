<script lang="ts">
	import { Label, Range, Toggle } from 'flowbite-svelte';
	import ActionButton from '../../actions/ActionButton.svelte';
	import { ACTIONS } from '../../actions/actions.ts';
	import { useActions } from '../../actions/context.ts';
	import Button from '../../ui/Button.svelte';
	import { takes as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import TransitionFields from './TransitionFields.svelte';

	const session = useDesk();
	const show = $derived(session.state);

	const { run } = useActions();
	const direct = ACTIONS.get('direct')!;
	const next = $derived(show.setup.scenes.find(({ id }) => id === show.live.next));

	/** Near enough to the end of its way the lever is at its end. */
	const AT_END = 0.985;
	function moveLever(position: number) {
		session.do({ type: 'setLever', position: position >= AT_END ? 1 : position });
	}
</script>

<div class="panel flex min-w-0 flex-1 flex-col justify-between gap-1.5 overflow-hidden p-2">
	<ActionButton action="take" look="main" size="lg" class="block min-h-11 flex-1 truncate" />
	<TransitionFields
		transition={show.setup.transition}
		onchange={(transition) => session.do({ type: 'setTransition', transition })}
	/>
	{#if next?.transition}
		<p class="text-xs text-gray-300">{words.alwaysUsesOwnTransition(next.name)}</p>
	{/if}
	<Label class="flex items-center gap-2" title={words.movesTransitionByHandStops}>
		<span class="font-semibold">{words.byHand}</span>
		<Range
			class="min-w-0 flex-1"
			min="0"
			max="1"
			step="0.01"
			disabled={!next}
			value={show.live.lever}
			aria-label={words.handLever}
			aria-valuetext={words.way(Math.round(show.live.lever * 100), next?.name ?? words.nothing)}
			oninput={({ currentTarget }) => moveLever(currentTarget.valueAsNumber)}
		/>
		{#if show.live.lever > 0}
			<Button size="xs" onpress={() => session.do({ type: 'setLever', position: 0 })}>{words.leverBack}</Button>
		{/if}
	</Label>
	<div class="flex items-center justify-between gap-1.5">
		<Toggle size="small" checked={show.setup.direct} onchange={(event: Event) => run(direct, event)}>
			<span title={direct.words}>{direct.label!(show)}</span>
		</Toggle>
		<span class="flex gap-1">
			<ActionButton action="call-back" size="sm" class="px-1.5" />
			<ActionButton action="previous-scene" size="sm" class="px-1.5" />
			<ActionButton action="black" size="sm" lit="air" class="px-1.5" />
		</span>
	</div>
</div>
