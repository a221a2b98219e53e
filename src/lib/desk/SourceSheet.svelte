<script lang="ts">
	/** Everything about one source: name, framings, corrections, patches, and what a card or clock says. */
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { NEUTRAL, type Adjust, type Source } from '../../core/show/sources/source.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import SliderField from '../ui/SliderField.svelte';
	import CardFields from './CardFields.svelte';
	import ClockFields from './ClockFields.svelte';
	import PatchFields from './PatchFields.svelte';
	import PickColour from './PickColour.svelte';
	import SoundFields from './SoundFields.svelte';
	import { newId } from './session.svelte.ts';
	import { framingSharpness } from './sharpness.ts';
	import Sheet from './Sheet.svelte';
	import type { SourceEditing } from './source-editing.svelte.ts';
	import { plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';

	interface Props {
		editing: SourceEditing;
		show: ShowState;
		source: Source;
		onclose: () => void;
	}
	let { editing, show, source, onclose }: Props = $props();

	const session = $derived(editing.session);
	let picking = $state(false);
	const change = (part: Partial<Source>) => editing.change(part);
	const adjust = (part: Partial<Adjust>, done = true) =>
		editing.change({ adjust: { ...source.adjust, ...part } }, done, Object.keys(part).join());
	const isNeutral = $derived(JSON.stringify(source.adjust) === JSON.stringify(NEUTRAL));

	function makeScene(framingId: string, name: string) {
		const scene = plainScene(newId(), name, [{ ...wholeLayer(newId(), source.id), framingId }]);
		if (session.do({ type: 'addScene', scene })) session.notify(`The scene ${name} was made.`);
	}
	const percent = (value: number) => `${Math.round(100 * value)} %`;
	const drawn = $derived(['card', 'clock', 'colour'].includes(source.kind));
</script>

<Sheet title={source.name} {onclose} onundo={() => editing.undo()}>
	<div class="grid gap-4">
		<input
			class="field w-full font-semibold"
			aria-label="Name of the source"
			maxlength="120"
			value={source.name}
			onchange={({ currentTarget }) =>
				currentTarget.value.trim() &&
				session.do({ type: 'renameSource', sourceId: source.id, name: currentTarget.value.trim() })}
		/>
		{#if source.origin.from === 'card'}
			{@const { origin } = source}
			<CardFields
				card={origin.card}
				people={show.setup.people}
				onchange={(card) => change({ origin: { ...origin, card } })}
			/>
		{:else if source.origin.from === 'clock'}
			{@const { origin } = source}
			<ClockFields {origin} onchange={(next) => change({ origin: next })} />
		{:else if source.origin.from === 'colour'}
			{@const { origin } = source}
			<label class="flex items-center justify-between">
				Colour
				<input
					type="color"
					class="h-8 w-14 bg-transparent"
					value={origin.colour}
					onchange={({ currentTarget }) => change({ origin: { ...origin, colour: currentTarget.value } })}
				/>
			</label>
		{/if}

		{#if source.kind === 'sound'}
			<SoundFields origin={source.origin} onchange={(origin) => change({ origin })} />
		{:else if !drawn}
			<section class="grid gap-1">
				<h3 class="font-semibold">Framings: one camera, used as several</h3>
				{#each source.framings as framing (framing.id)}
					{@const soft = framingSharpness(source.id, framing.crop, show, session.conditions)}
					<div
						class="grid gap-1 rounded-sm border p-1 {framing.id === editing.selected
							? 'border-lamp'
							: 'border-slate-rule'}"
					>
						<div class="flex gap-1">
							<input
								class="field w-full"
								aria-label="Name of the framing"
								maxlength="120"
								value={framing.name}
								onfocus={() => {
									editing.placing = 'framings';
									editing.selected = framing.id;
								}}
								onchange={({ currentTarget }) => {
									const name = currentTarget.value.trim();
									if (name) editing.changeFraming({ ...framing, name });
								}}
							/>
							<button
								class="icon-act"
								aria-label="Remove the framing {framing.name}"
								onclick={() => editing.removeFraming(framing.id)}><TrashBinOutline class="size-4" /></button
							>
						</div>
						{#if soft}<p class="border-l-4 border-lamp pl-2 text-xs">{soft}</p>{/if}
						<button class="act py-0.5 text-xs" onclick={() => makeScene(framing.id, framing.name)}
							>Make a scene of it</button
						>
					</div>
				{/each}
				<button class="act py-1 text-xs" onclick={() => editing.addFraming()}>Add a framing</button>
			</section>
		{/if}

		{#if source.kind !== 'sound'}
			<section class="grid gap-1">
				<h3 class="font-semibold">Patches: what nobody may read</h3>
				{#each editing.patches as patch (patch.id)}
					<PatchFields {session} {patch} onchange={(changed, done) => editing.changePatch(changed, done)} />
				{/each}
				{#if editing.patches.length > 0 && editing.placing !== 'patches'}
					<button class="act py-1 text-xs" onclick={() => (editing.placing = 'patches')}>Place them by hand</button>
				{/if}
				<button class="act py-1 text-xs" onclick={() => editing.addPatch()}>Add a patch</button>
			</section>
		{/if}

		{#if source.kind !== 'colour' && source.kind !== 'sound'}
			<section class="grid gap-1">
				<h3 class="font-semibold">Picture</h3>
				{#each [['brightness', 'Brightness', -0.5, 0.5, 0], ['contrast', 'Contrast', 0, 2, 1], ['saturation', 'Colour', 0, 2, 1], ['gamma', 'Mid tones', 0.3, 3, 1]] as const as [name, label, min, max, neutral] (name)}
					<SliderField
						{label}
						{min}
						{max}
						{neutral}
						value={source.adjust[name]}
						text={name === 'brightness' ? percent(source.adjust[name]) : source.adjust[name].toFixed(2)}
						onchange={(value) => adjust({ [name]: value }, false)}
					/>
				{/each}
				<div class="flex gap-1">
					{#if !drawn}<button class="act flex-1 py-1 text-xs" onclick={() => (picking = true)}
							>Pick what should be grey</button
						>{/if}
					<button
						class="act flex-1 py-1 text-xs"
						disabled={isNeutral}
						onclick={() => change({ adjust: { ...NEUTRAL } })}>As it comes</button
					>
				</div>
			</section>
		{/if}
	</div>
</Sheet>

{#if picking}
	<PickColour
		{session}
		sourceId={source.id}
		title="Press something that should be grey or white"
		onpick={({ u, v }) =>
			adjust({ grey: { u: Math.max(-64, Math.min(64, u - 128)), v: Math.max(-64, Math.min(64, v - 128)) } })}
		bind:open={picking}
	/>
{/if}
