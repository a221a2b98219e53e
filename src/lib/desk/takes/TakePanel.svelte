<script lang="ts">
	import { Toggle } from 'flowbite-svelte';
	import { press } from '../../ui/press.ts';
	import { useDesk } from '../context.ts';
	import TransitionFields from './TransitionFields.svelte';

	const session = useDesk();
	const show = $derived(session.state);

	const next = $derived(show.setup.scenes.find(({ id }) => id === show.live.next));

	/** Near enough to the end of its way the lever is at its end. */
	const AT_END = 0.985;
	function moveLever(position: number) {
		session.do({ type: 'setLever', position: position >= AT_END ? 1 : position });
	}
</script>

<div class="panel flex min-w-0 flex-1 flex-col justify-between gap-1.5 overflow-hidden p-2">
	<button
		class="act-main min-h-11 flex-1 truncate text-xl"
		disabled={!next}
		use:press={() => session.do({ type: 'take' })}
	>
		{next ? `Take ${next.name}` : 'Take'}
	</button>
	<TransitionFields
		transition={show.setup.transition}
		onchange={(transition) => session.do({ type: 'setTransition', transition })}
	/>
	{#if next?.transition}
		<p class="text-xs text-gray-300">{next.name} is always taken in its own way.</p>
	{/if}
	<label class="flex items-center gap-2 text-sm" title="Moves the transition by hand; it stops where you stop">
		<span class="font-semibold">By hand</span>
		<input
			type="range"
			class="min-w-0 flex-1 accent-lamp disabled:opacity-40"
			min="0"
			max="1"
			step="0.01"
			disabled={!next}
			value={show.live.lever}
			aria-label="Hand lever"
			aria-valuetext="{Math.round(show.live.lever * 100)} % of the way to {next?.name ?? 'nothing'}"
			oninput={({ currentTarget }) => moveLever(currentTarget.valueAsNumber)}
		/>
		{#if show.live.lever > 0}
			<button class="act px-2 py-0.5 text-xs" use:press={() => session.do({ type: 'setLever', position: 0 })}
				>Let go back</button
			>
		{/if}
	</label>
	<div class="flex items-center justify-between gap-1.5">
		<Toggle
			size="small"
			checked={show.setup.direct}
			onchange={() => session.do({ type: 'setDirect', direct: !show.setup.direct })}
			class="text-sm font-semibold text-paper"
		>
			<span class="text-paper" title="Choosing a scene takes it at once">Direct</span>
		</Toggle>
		<span class="flex gap-1.5">
			<button
				class="act px-2 py-1 text-sm"
				disabled={show.live.take.from === null || show.live.take.calledBack}
				title="The picture returns the way it went, also in the middle of a transition"
				use:press={() => session.do({ type: 'callBack' })}>Call it back</button
			>
			<button
				class="act px-2 py-1 text-sm"
				disabled={!show.live.previous}
				use:press={() => session.do({ type: 'takeBack' })}>One before</button
			>
			<button
				class="act px-2 py-1 text-sm aria-pressed:border-air aria-pressed:bg-air aria-pressed:text-white"
				aria-pressed={show.live.black}
				title="Black over everything, and back"
				use:press={() => session.do({ type: 'setBlack', black: !show.live.black })}
				>{show.live.black ? 'BLACK, press to undo' : 'Black'}</button
			>
		</span>
	</div>
</div>
