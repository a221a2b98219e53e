<script lang="ts">
	/** Everything about one source: name, framings, corrections, patches, and what a card or clock says. */
	import { dequal } from 'dequal';
	import { Input } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import { batchOf, type SingleCommand } from '../../../core/show/command.ts';
	import { plainChannel } from '../../../core/show/mix/mix.ts';
	import { plainScene, wholeLayer } from '../../../core/show/scenes/scene.ts';
	import { kindOf, NEUTRAL, type Adjust, type Source } from '../../../core/show/sources/source.ts';
	import { newId } from '../../show/new-id.ts';
	import { shownKindOf } from '../../sources/kinds.ts';
	import Button from '../../ui/Button.svelte';
	import NameField from '../../ui/NameField.svelte';
	import Sheet from '../../ui/Sheet.svelte';
	import SliderField from '../../ui/SliderField.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { sources as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import PatchFields from '../overlays/PatchFields.svelte';
	import PickColour from '../pictures/PickColour.svelte';
	import { framingSharpness } from '../scenes/sharpness.ts';
	import SizeHint from './SizeHint.svelte';
	import type { SourceEditing } from './source-editing.svelte.ts';

	interface Props {
		editing: SourceEditing;
		source: Source;
	}
	let { editing, source }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	let picking = $state(false);
	const change = (next: Source) => editing.change(next);
	const adjust = (part: Partial<Adjust>, done = true) =>
		editing.change({ adjust: { ...source.adjust, ...part } }, done, Object.keys(part).join());
	const isNeutral = $derived(dequal(source.adjust, NEUTRAL));

	function makeScene(framingId: string, name: string) {
		const scene = plainScene(newId(), name, [{ ...wholeLayer(newId(), source.id), framingId }]);
		if (session.do({ type: 'addScene', scene })) session.notify(words.sceneMade(name));
	}
	const percent = (value: number) => `${Math.round(100 * value)} %`;
	const kind = $derived(kindOf(source));
	const Editor = $derived(shownKindOf(source).Editor);
	const hasChannel = $derived(show.setup.channels.some(({ sourceId }) => sourceId === source.id));

	/** Its own sound becomes a channel; nobody hears it before it has been set. */
	function useSound() {
		const channel = { ...plainChannel(newId(), source.id, source.name), muted: true };
		const opens: SingleCommand[] =
			'withSound' in source ? [{ type: 'changeSource', source: { ...source, withSound: true } }] : [];
		const command = batchOf([...opens, { type: 'addChannel', channel }]);
		session.doWithUndo(command, words.soundChannelMixNowMuted(source.name));
	}
</script>

<Sheet title={source.name} onclose={() => session.sheet.close()} onundo={() => editing.undo()}>
	<div class="grid gap-4">
		<NameField
			class="font-semibold"
			label={words.nameSource}
			value={source.name}
			onchange={(name) => session.do({ type: 'renameSource', sourceId: source.id, name })}
		/>
		<SizeHint {source} />
		{#if Editor}
			<Editor {source} {show} onchange={change} />
		{/if}
		{#if kind.brings.sound === 'asked' && !hasChannel}
			<section class="grid gap-1">
				<Button size="xs" onclick={useSound}>{words.useOwnSound}</Button>
				<p class="text-xs text-gray-300">{words.becomesChannelStreamMixMuted}</p>
			</section>
		{/if}

		{#if kind.isLive}
			<section class="grid gap-1">
				<h3 class="font-semibold">{words.framingsOneCameraUsedAs}</h3>
				{#each source.framings as framing (framing.id)}
					{@const soft = framingSharpness(source.id, framing.crop, show, session.conditions)}
					<div
						class="grid gap-1 rounded-sm border p-1 {framing.id === editing.selected
							? 'border-lamp'
							: 'border-slate-rule'}"
					>
						<div class="flex gap-1">
							<Input
								size="sm"
								aria-label={words.nameFraming}
								maxlength={MOST_NAME_LETTERS}
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
							<Button
								look="icon"
								aria-label={words.removeFraming(framing.name)}
								onclick={() => editing.removeFraming(framing.id)}><TrashBinOutline class="size-4" /></Button
							>
						</div>
						{#if soft}<Warning class="text-xs">{soft}</Warning>{/if}
						<Button size="xs" onclick={() => makeScene(framing.id, framing.name)}>{words.makeScene}</Button>
					</div>
				{/each}
				<Button size="xs" onclick={() => editing.addFraming()}>{words.addFraming}</Button>
			</section>
		{/if}

		{#if kind.brings.picture}
			<section class="grid gap-1">
				<h3 class="font-semibold">{words.patchesWhatNobodyMayRead}</h3>
				{#each editing.patches as patch (patch.id)}
					<PatchFields {patch} onchange={(changed, done) => editing.changePatch(changed, done)} />
				{/each}
				{#if editing.patches.length > 0 && editing.placing !== 'patches'}
					<Button size="xs" onclick={() => (editing.placing = 'patches')}>{words.placeThemByHand}</Button>
				{/if}
				<Button size="xs" onclick={() => editing.addPatch()}>{words.addPatch}</Button>
			</section>
		{/if}

		{#if kind.hasColours}
			<section class="grid gap-1">
				<h3 class="font-semibold">{words.picture}</h3>
				{#each [['brightness', words.brightness, -0.5, 0.5, 0], ['contrast', words.contrast, 0, 2, 1], ['saturation', words.colour, 0, 2, 1], ['gamma', words.midTones, 0.3, 3, 1]] as const as [name, label, min, max, neutral] (name)}
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
				<div class="flex flex-wrap gap-1">
					{#if kind.isLive}<Button size="xs" class="flex-1" onclick={() => (picking = true)}
							>{words.pickWhatShouldGrey}</Button
						>{/if}
					<Button
						size="xs"
						class="flex-1"
						disabled={isNeutral}
						onclick={() => editing.change({ adjust: { ...NEUTRAL } })}>{words.resetPicture}</Button
					>
				</div>
			</section>
		{/if}
	</div>
</Sheet>

{#if picking}
	<PickColour
		sourceId={source.id}
		title={words.pressSomethingShouldGreyOr}
		onpick={({ u, v }) =>
			adjust({ grey: { u: Math.max(-64, Math.min(64, u - 128)), v: Math.max(-64, Math.min(64, v - 128)) } })}
		bind:open={picking}
	/>
{/if}
