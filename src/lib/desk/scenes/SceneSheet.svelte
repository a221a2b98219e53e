<script lang="ts">
	/** What a scene is made of, by words and numbers. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import {
		ArrowDownOutline,
		ArrowUpOutline,
		EyeOutline,
		EyeSlashOutline,
		TrashBinOutline,
	} from 'flowbite-svelte-icons';
	import { MOST_NAME_LETTERS, WHOLE } from '../../../core/show/basics.ts';
	import { CUT, type Layer, type Scene } from '../../../core/show/scenes/scene.ts';
	import { kindOf } from '../../../core/show/sources/source.ts';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import ChoiceMenu from '../../ui/ChoiceMenu.svelte';
	import { choicesAmong, choicesOf, type Choice } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import NameField from '../../ui/NameField.svelte';
	import NumberField from '../../ui/NumberField.svelte';
	import Sheet from '../../ui/Sheet.svelte';
	import SliderField from '../../ui/SliderField.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { scenes as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import TransitionFields from '../takes/TransitionFields.svelte';
	import KeyFields from './KeyFields.svelte';
	import type { SceneEditing } from './scene-editing.svelte.ts';
	import { sharpnessOf } from './sharpness.ts';

	interface Props {
		editing: SceneEditing;
		scene: Scene;
	}
	let { editing, scene }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const layer = $derived(editing.layer);
	const index = $derived(show.setup.scenes.findIndex(({ id }) => id === editing.sceneId));
	const withPicture = $derived(show.setup.sources.filter((source) => kindOf(source).brings.picture));
	const sourceName = ({ sourceId, framingId }: Layer) => {
		const source = show.setup.sources.find(({ id }) => id === sourceId);
		return source?.framings.find(({ id }) => id === framingId)?.name ?? source?.name ?? words.gone;
	};
	/** With more of them nobody would be recognised. */
	const MOST_PLACES = 9;
	/** As many as there are layers and open places, until somebody says otherwise. */
	const inUse = $derived(Math.min(MOST_PLACES, Math.max(1, scene.layers.length + editing.places.length)));
	let places = $derived(inUse);
	const soft = $derived(layer ? sharpnessOf(layer, show, session.conditions) : null);
	const COUNTS = Array.from({ length: MOST_PLACES }, (_, i): Choice<number> => [i + 1, String(i + 1)]);
	const FIT_NAMES = { fit: words.showAll, fill: words.fillBox, stretch: words.stretch } as const;

	/** Sources and their framings, as "source" or "source framing". */
	const choices = $derived(
		withPicture.flatMap(({ id, name, framings }): Choice<string>[] => [
			[id, name],
			...framings.map((framing): Choice<string> => [`${id} ${framing.id}`, `${name}: ${framing.name}`]),
		]),
	);
	function choose(value: string): { sourceId: string; framingId: string | null } {
		const [sourceId, framingId] = value.split(' ');
		return { sourceId: sourceId!, framingId: framingId ?? null };
	}

	function copy(from: Scene) {
		const layers = from.layers.map((each) => ({ ...each, id: newId() }));
		const id = newId();
		const made = { ...from, id, name: words.copyOf(from.name).slice(0, MOST_NAME_LETTERS), layers, locked: false };
		if (session.do({ type: 'addScene', scene: made, at: index + 1 })) session.sheet.editScene(id);
	}
	function remove(from: Scene) {
		const command = { type: 'removeScene' as const, sceneId: from.id };
		if (session.doWithUndo(command, words.deleted(from.name))) session.sheet.close();
	}
	const change = (part: Partial<Layer>, done = true) => layer && editing.changeLayer(layer.id, part, done);
</script>

{#if scene}
	<Sheet title={words.scene(index + 1)} onclose={() => session.sheet.close()} onundo={() => editing.undo()}>
		<div class="grid gap-3">
			<NameField
				class="font-semibold"
				label={words.nameScene}
				value={scene.name}
				onchange={(name) => editing.change({ name })}
			/>
			<div class="flex flex-wrap gap-1">
				<Button size="xs" onclick={() => copy(scene)}>{words.copy}</Button>
				<Button size="xs" aria-pressed={scene.locked} onclick={() => editing.change({ locked: !scene.locked })}
					>{scene.locked ? words.unlock : words.lock}</Button
				>
				<Button
					size="xs"
					hint={words.gathersHint}
					aria-pressed={scene.gathers}
					onclick={() => editing.change({ gathers: !scene.gathers })}>{words.gathers}</Button
				>
				<Button
					size="xs"
					disabled={index <= 0}
					onclick={() => session.do({ type: 'moveScene', sceneId: scene.id, at: index - 1 })}>{words.earlier}</Button
				>
				<Button
					size="xs"
					disabled={index >= show.setup.scenes.length - 1}
					onclick={() => session.do({ type: 'moveScene', sceneId: scene.id, at: index + 1 })}>{words.later}</Button
				>
				<Button size="xs" onclick={() => remove(scene)}>{words.deleteIt}</Button>
			</div>

			<section>
				<h3 class="mb-1 font-semibold">{words.layersFrontFirst}</h3>
				<ul class="grid gap-1">
					{#each scene.layers.toReversed() as each (each.id)}
						<li
							class="flex items-center gap-0.5 rounded-sm border {each.id === editing.selected
								? 'border-lamp'
								: 'border-slate-rule'}"
						>
							<Button
								look="bare"
								class="min-w-0 flex-1 truncate px-2 py-1 text-left"
								aria-pressed={each.id === editing.selected}
								onclick={() => (editing.selected = each.id)}>{sourceName(each)}</Button
							>
							<Button
								look="icon"
								aria-label={each.hidden ? words.show(sourceName(each)) : words.hide(sourceName(each))}
								onclick={() => editing.changeLayer(each.id, { hidden: !each.hidden })}
							>
								{#if each.hidden}<EyeSlashOutline class="size-4" />{:else}<EyeOutline class="size-4" />{/if}
							</Button>
							<Button
								look="icon"
								aria-label={words.front(sourceName(each))}
								onclick={() => editing.moveLayer(each.id, 1)}><ArrowUpOutline class="size-4" /></Button
							>
							<Button
								look="icon"
								aria-label={words.back(sourceName(each))}
								onclick={() => editing.moveLayer(each.id, -1)}><ArrowDownOutline class="size-4" /></Button
							>
							<Button
								look="icon"
								aria-label={words.removeLayer(sourceName(each))}
								onclick={() => editing.removeLayer(each.id)}><TrashBinOutline class="size-4" /></Button
							>
						</li>
					{:else}
						<li class="border-2 border-dashed border-gray-500 p-2 text-gray-300">{words.nothingInSceneYet}</li>
					{/each}
				</ul>
				<ChoiceMenu
					class="mt-1"
					label={words.addLayer}
					title={words.addLayerMenu}
					{choices}
					onchoose={(value) => {
						const { sourceId, framingId } = choose(value);
						editing.addLayer(sourceId, framingId);
					}}
				/>
				<div class="mt-1 grid grid-cols-3 gap-1" role="group" aria-label={words.arrangeLayers}>
					<Label class="col-span-3 flex items-center justify-between dark:text-gray-300">
						{words.placesPictures}
						<ChoiceField
							class="w-20"
							label={words.howManyPictures}
							value={places}
							choices={COUNTS}
							onchange={(count) => (places = count)}
						/>
					</Label>
					{#each [['grid', words.sideBySide], ['oneLarge', words.oneLarge], ['inCorner', words.inCorner]] as const as [way, name] (way)}
						<Button size="xs" onclick={() => editing.arrange(way, places)}>{name}</Button>
					{/each}
				</div>
				{#if editing.places.length > 0}
					<Warning class="mt-1 text-xs">
						{words.dragSourcesFromLeftInto}
					</Warning>
				{/if}
			</section>

			{#if layer}
				<section class="grid gap-2 border-t border-slate-rule pt-2" aria-label={words.chosenLayer}>
					<h3 class="font-semibold">{sourceName(layer)}</h3>
					{#if soft}<Warning>{soft}</Warning>{/if}
					<ChoiceField
						label={words.whatLayerShows}
						value={layer.framingId ? `${layer.sourceId} ${layer.framingId}` : layer.sourceId}
						{choices}
						onchange={(value) => change(choose(value))}
					/>
					<ChoiceField
						label={words.howFits}
						value={layer.fit}
						choices={choicesOf(FIT_NAMES)}
						onchange={(fit) => change({ fit })}
					/>
					<div class="grid gap-1">
						{#each [['x', words.fromLeft, -200, 200], ['y', words.fromTop, -200, 200], ['width', words.width, 1, 400], ['height', words.height, 1, 400]] as const as [side, label, min, max] (side)}
							<NumberField
								{label}
								{min}
								{max}
								step={0.5}
								unit="%"
								value={Math.round(layer.box[side] * 1000) / 10}
								onchange={(value) => change({ box: { ...layer.box, [side]: value / 100 } })}
							/>
						{/each}
						<Button size="xs" onclick={() => change({ box: { ...WHOLE } })}>{words.fullPicture}</Button>
					</div>
					<SliderField
						label={words.opacity}
						value={layer.opacity}
						min={0}
						max={1}
						neutral={1}
						text="{Math.round(layer.opacity * 100)} %"
						onchange={(opacity) => change({ opacity }, false)}
					/>
					<SliderField
						label={words.roundCorners}
						value={layer.corner}
						min={0}
						max={0.5}
						neutral={0}
						text={layer.corner >= 0.5 ? words.round : `${Math.round(layer.corner * 200)} %`}
						onchange={(corner) => change({ corner }, false)}
					/>
					<SliderField
						label={words.border}
						value={layer.border.width}
						min={0}
						max={0.03}
						step={0.001}
						neutral={0}
						text={words.px(Math.round(layer.border.width * show.setup.picture.height))}
						onchange={(width) => change({ border: { ...layer.border, width } }, false)}
					/>
					<Label class="flex items-center justify-between dark:text-gray-300">
						{words.borderColour}
						<Input
							size="sm"
							type="color"
							class="h-8 w-12! shrink-0 p-1"
							value={layer.border.colour}
							onchange={({ currentTarget }) => change({ border: { ...layer.border, colour: currentTarget.value } })}
						/>
					</Label>
					<Checkbox checked={layer.mirrored} onchange={() => change({ mirrored: !layer.mirrored })}
						>{words.mirrored}</Checkbox
					>
					<Fold title={words.crop}>
						<div class="mt-1 grid gap-1">
							<Button
								size="xs"
								aria-pressed={editing.hand === 'crop'}
								onclick={() => (editing.hand = editing.hand === 'crop' ? 'place' : 'crop')}
								>{editing.hand === 'crop' ? words.backScene : words.cropByHand}</Button
							>
							{#each [['left', words.left], ['top', words.top], ['right', words.right], ['bottom', words.bottom]] as const as [side, label] (side)}
								{@const { x, y, width, height } = layer.crop}
								{@const cut = { left: x, top: y, right: 1 - x - width, bottom: 1 - y - height }}
								<NumberField
									{label}
									min={0}
									max={95}
									unit="%"
									value={Math.round(cut[side] * 100)}
									onchange={(value) => {
										const next = { ...cut, [side]: value / 100 };
										change({
											crop: {
												x: next.left,
												y: next.top,
												width: Math.max(0.02, 1 - next.left - next.right),
												height: Math.max(0.02, 1 - next.top - next.bottom),
											},
										});
									}}
								/>
							{/each}
						</div>
					</Fold>
					<KeyFields
						sourceId={layer.sourceId}
						key={layer.key}
						bind:showsOpacity={editing.showsOpacity}
						onchange={(key, done) => change({ key }, done)}
					/>
				</section>
			{/if}

			<section class="grid gap-2 border-t border-slate-rule pt-2">
				<h3 class="font-semibold">{words.behindLayers}</h3>
				<ChoiceField
					label={words.background}
					value={scene.background.is === 'own' ? scene.background.sourceId : `(${scene.background.is})`}
					choices={[['(event)', words.eventsBackground], ['(none)', words.black], ...choicesAmong(withPicture)]}
					onchange={(value) =>
						editing.change({
							background:
								value === '(event)'
									? { is: 'event' }
									: value === '(none)'
										? { is: 'none' }
										: { is: 'own', sourceId: value },
						})}
				/>
				<Label class="block">
					<span class="text-gray-300">{words.eventsBackgroundBehindEveryScene}</span>
					<ChoiceField
						value={show.setup.background}
						choices={[[null, words.black], ...choicesAmong(withPicture)]}
						onchange={(sourceId) => session.do({ type: 'setBackground', sourceId })}
					/>
				</Label>
			</section>

			<section class="grid gap-2 border-t border-slate-rule pt-2">
				<Checkbox
					classes={{ div: 'font-semibold' }}
					checked={scene.transition !== null}
					onchange={() =>
						editing.change({ transition: scene.transition ? null : { ...CUT, kind: 'fade', durationMs: 500 } })}
					>{words.alwaysUseOwnTransition}</Checkbox
				>
				{#if scene.transition}
					<TransitionFields transition={scene.transition} onchange={(transition) => editing.change({ transition })} />
				{/if}
			</section>
		</div>
	</Sheet>
{/if}
